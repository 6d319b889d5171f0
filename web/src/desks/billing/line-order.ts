import type { Invoice, Line } from "./use-billing";

/** What identifies a row, on the draft or left out. */
export const idOf = (line: Line | undefined) =>
  line === undefined ? "" : line.portionId ? `entry ${line.portionId}` : `line ${line.lineId}`;

/** Whether an entry is not on the draft. */
export const isOut = (line: Line) => line.lineId === 0;

/** The lines in the order of the invoice; what was left out stands where it would, by engagement and day. */
export function arranged(invoice: Invoice): Line[] {
  const rows = [...invoice.lines];
  for (const out of invoice.leftOut) {
    const later = (line: Line) =>
      line.engagement === out.engagement &&
      line.portionId !== 0 &&
      (line.day > out.day || (line.day === out.day && line.portionId > out.portionId));
    const next = rows.findIndex(later);
    const last = rows.findLastIndex((line) => line.engagement === out.engagement);
    rows.splice(next >= 0 ? next : last >= 0 ? last + 1 : rows.length, 0, out);
  }
  return rows;
}

/** The lines after one was moved: each once, without what is behind fees or left out. */
export function moved(rows: Line[], from: Line, by: number): number[] | undefined {
  const ids = [...new Set(rows.filter((line) => !isOut(line)).map((line) => line.lineId))];
  const at = ids.indexOf(from.lineId);
  const to = at + by;
  if (isOut(from) || to < 0 || to >= ids.length) return undefined;
  ids.splice(to, 0, ...ids.splice(at, 1));
  return ids;
}

/** The list of the lines, for whoever goes on by keys. */
export const linesInHand = () => document.querySelector<HTMLElement>("[aria-label=Entries]");

/** Goes to a draft with its lines in hand: who comes by a key goes on by keys. */
export const onLines = { state: { onLines: true } };
