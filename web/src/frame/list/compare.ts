const names = new Intl.Collator("en", { numeric: true, sensitivity: "base" });

/** The order of two values: figures by size, texts as people look them up, with numbers in them by size. */
export const compareText = (a: string | number, b: string | number) =>
  typeof a === "number" && typeof b === "number" ? a - b : names.compare(String(a), String(b));
