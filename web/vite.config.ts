import { createReadStream, createWriteStream, readdirSync } from "node:fs";
import { basename } from "node:path";
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
  css: {
    modules: {
      localsConvention: "camelCaseOnly",
      // A class says whose it is, in the browser and in its tests: list_unread.
      generateScopedName: (name, file) => `${basename(file).replace(".module.css", "")}_${name}`,
    },
  },
  build: {
    chunkSizeWarningLimit: 1200,
    // One sheet of all styles: 10 kB packed, and always in the same order.
    cssCodeSplit: false,
    // What most desks need comes in one piece, not in thirty.
    rolldownOptions: { output: { codeSplitting: { groups: [{ name: "shared", minShareCount: 18 }] } } },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8700" } },
});
