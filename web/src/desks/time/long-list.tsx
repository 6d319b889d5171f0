import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { inField } from "../../frame/keys";
import { pageSize, type Sought, useWorkPages, type WorkPage } from "./use-work";

/** As high as a row is drawn, in pixels; app.css gives the rows of long lists the same. */
export const rowHeight = 32;
const block = 20;
const drawn = 80;

/**
 * A list of any length, of which only what is in sight is drawn: rows above and below are empty space. Arrows or j and k
 * move, as in other lists; others as given.
 */
export function useLongList(total: number, acts: Record<string, (index: number) => void>) {
  const list = useRef<HTMLElement>(null);
  const [current, setCurrent] = useState(0);
  const [first, setFirst] = useState(0);
  const onScroll = () => {
    const top = Math.floor((list.current?.scrollTop ?? 0) / rowHeight);
    setFirst(Math.max(0, Math.floor((top - block) / block) * block));
  };
  useEffect(() => {
    if (first > total) onScroll();
  });
  const go = (to: number) => {
    const index = Math.max(0, Math.min(total - 1, to));
    setCurrent(index);
    const box = list.current;
    if (!box) return;
    const top = index * rowHeight;
    const head = 36;
    if (top < box.scrollTop) box.scrollTop = top;
    else if (top + rowHeight + head > box.scrollTop + box.clientHeight)
      box.scrollTop = top + rowHeight + head - box.clientHeight;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const boxed = event.target instanceof HTMLInputElement && event.target.type === "checkbox";
    if ((inField(event.target) && !boxed) || event.ctrlKey || event.altKey || event.metaKey) return;
    const steps: Record<string, number> = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1, PageDown: 15, PageUp: -15 };
    const by = steps[event.key];
    if (by) go(current + by);
    else if (event.key === "Home") go(0);
    else if (event.key === "End") go(total - 1);
    else if (acts[event.key]) acts[event.key]?.(current);
    else return;
    event.preventDefault();
  };
  const last = Math.min(total, first + drawn);
  return { list: { ref: list, tabIndex: 0, onKeyDown, onScroll }, current, setCurrent, first, last };
}

/** Empty space in place of rows that are not drawn. */
export function Space({ rows, columns }: { rows: number; columns: number }) {
  if (rows <= 0) return null;
  return (
    <tr aria-hidden className="space">
      <td colSpan={columns} style={{ height: rows * rowHeight }} />
    </tr>
  );
}

/** A long list of what is sought: its rows are read as they come into sight. */
export function useWorkList<T>(
  sought: Sought,
  total: number,
  rowsOf: (page: WorkPage) => T[],
  acts: Record<string, (row: T) => void>,
) {
  const ofRow = (act: (row: T) => void) => (index: number) => {
    const row = rowAt(index);
    if (row !== undefined) act(row);
  };
  const long = useLongList(total, {
    ...Object.fromEntries(Object.entries(acts).map(([key, act]) => [key, ofRow(act)])),
    "/": () => document.querySelector<HTMLElement>("[data-sentence] input")?.focus(),
  });
  const firstPage = Math.floor(long.first / pageSize);
  const pages = Array.from(
    { length: Math.max(1, Math.ceil(long.last / pageSize) - firstPage) },
    (_, i) => firstPage + i,
  );
  const { byPage } = useWorkPages(sought, pages);
  const rowAt = (index: number): T | undefined => {
    const page = byPage.get(Math.floor(index / pageSize));
    return page && rowsOf(page)[index % pageSize];
  };
  const rows = Array.from({ length: long.last - long.first }, (_, i) => ({
    index: long.first + i,
    row: rowAt(long.first + i),
  }));
  return { ...long, rows };
}
