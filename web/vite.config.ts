import { createReadStream, createWriteStream, readdirSync } from "node:fs";
import { pipeline } from "node:stream/promises";
import { createBrotliCompress, createGzip } from "node:zlib";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** Packs what is text once, at build: the server hands it out as it lies there. */
const packed: Plugin = {
  name: "packed",
  apply: "build",
  async closeBundle() {
    const texts = readdirSync("dist/assets").filter((name) => /\.(m?js|css)$/.test(name));
    await Promise.all(
      texts.flatMap((name) => [
        pipeline(createReadStream(`dist/assets/${name}`), createBrotliCompress(), createWriteStream(`dist/assets/${name}.br`)),
        pipeline(createReadStream(`dist/assets/${name}`), createGzip({ level: 9 }), createWriteStream(`dist/assets/${name}.gz`)),
      ]),
    );
  },
};

export default defineConfig({
  plugins: [react(), packed],
  build: { chunkSizeWarningLimit: 1200 },
  server: { proxy: { "/api": "http://127.0.0.1:8700" } },
});
