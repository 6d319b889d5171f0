// Checks e-invoices with a library of another hand, which knows the business rules of
// EN 16931: the files are named on the command line, each breach is a line.
import { readFile } from "node:fs/promises";
import { createRequire } from "node:module";

const require = createRequire(new URL("../../../../web/package.json", import.meta.url));
const { FacturX } = require("factur-x-kit");

for (const name of process.argv.slice(2)) {
  try {
    const read = await (name.endsWith(".pdf") ? FacturX.fromPDF : FacturX.fromXML).call(FacturX, await readFile(name));
    const result = read.validate();
    for (const error of result.errors ?? []) console.log(`${name}: ${error.path.join(".")}: ${error.message}`);
  } catch (problem) {
    console.log(`${name}: ${problem.message}`);
  }
}
