import { type ReactNode, useMemo, useRef, useState } from "react";
import { compareText } from "./compare";
import { useKept } from "./kept";
import { type Marks, useMarks } from "./use-marks";

/** A column of a list of rows. */
export interface Column<R> {
  /** Under which it is kept, and what its head says unless `head` does. */
  name: string;
  head?: ReactNode;
  /** Figures stand right-aligned. */
  number?: boolean;
  cell: (row: R) => ReactNode;
  /** By what its head sorts; without, the rows stand in the order in which they came. */
  by?: (row: R) => string | number;
  /** What stands at the foot, of the rows that are shown; each has its words. */
  sum?: (rows: R[], words: (row: R) => string) => ReactNode;
  /** It names the row, and can't be left out. */
  names?: "strong" | "light";
  /** What it says of a row by its class: late, soft. */
  tone?: (row: R) => string | false | undefined;
  /** The whole text, where the cell may cut it. */
  title?: (row: R) => string;
  /** The head over it and its neighbours. */
  over?: string;
  /** As wide as it is at first, in pixels or in percent of the list, whose columns then keep their widths. */
  width?: number | string;
  /** Never broken into lines. */
  whole?: boolean;
}

/** Which rows are chosen, and how that is changed. */
export interface Choice<R> {
  has: (row: R) => boolean;
  some?: (row: R) => boolean;
  set: (rows: R[], chosen: boolean) => void;
  label: (row: R) => string;
  /** What a box says before the label, if it does not select. */
  does?: string;
  /** What the box in the head says and does, where not all rows are here, and of how many at the most. */
  all?: { chosen: number; flip: () => void | Promise<void>; most?: number };
}

/** Rows wherever they come from: all of them here, or page by page from the server. */
export interface Rows<R> {
  total: number;
  at: (index: number) => R | undefined;
  /** Told which are in sight. */
  see?: (first: number, last: number) => void;
}

interface Options<R> {
  /** Under which its shape is kept. */
  name: string;
  rows: R[];
  columns: Column<R>[];
  id: (row: R) => string | number;
  /** What the filter looks through; without, there is no filter. */
  text?: (row: R) => string;
  /** The row that is open, where the address says it. */
  open?: string | number;
  /** Being there opens nothing: rows are opened by a click or a key. */
  opensNothing?: boolean;
  onMove?: (row: R) => void;
  /** Whether rows can be marked by Shift and Ctrl. */
  marking?: boolean;
  /** What the filter looks for, where the address says it. */
  sought?: { text: string; set: (text: string) => void };
}

/** The rows that have all words in them. */
function matching<R>(rows: R[], sought: string, text: (row: R) => string): R[] {
  const words = sought.toLowerCase().split(" ").filter(Boolean);
  if (words.length === 0) return rows;
  return rows.filter((row) => {
    const said = text(row).toLowerCase();
    return words.every((word) => said.includes(word));
  });
}

function ordered<R>(rows: R[], by?: (row: R) => string | number, down?: boolean): R[] {
  if (!by) return rows;
  return rows.toSorted((a, b) => (down ? -1 : 1) * compareText(by(a), by(b)));
}

/** A list with what its reader makes of it: order, filter, columns, the current row, the chosen ones. */
export function useList<R>({
  name,
  rows: all,
  columns,
  id,
  text,
  open,
  opensNothing,
  onMove,
  marking,
  sought: address,
}: Options<R>) {
  const { kept, keep } = useKept(name);
  // The address follows what is typed, and is read when the list opens.
  const [sought, type] = useState(address?.text ?? "");
  const setSought = (text: string) => {
    type(text);
    address?.set(text);
  };
  const [at, setAt] = useState<string | number>();
  const [place, setPlace] = useState(0);
  const [chosen, setChosen] = useState<ReadonlySet<string | number>>(new Set());
  // In the same place another list: nothing of the one before holds for it.
  const [shown, show] = useState(name);
  if (shown !== name) {
    show(name);
    type(address?.text ?? "");
    setAt(undefined);
    setChosen(new Set());
  }
  const order = kept.order && columns.find((c) => c.name === kept.order?.column && c.by);
  // biome-ignore lint/correctness/useExhaustiveDependencies: columns and texts are the same for the same rows
  const rows = useMemo(
    () => ordered(text ? matching(all, sought, text) : all, order?.by, kept.order?.down),
    [all, sought, kept.order, name],
  );
  // The address follows a step later: what was moved here holds until the address says something else.
  const mine = useRef(new Set<string | number>());
  const [said, hear] = useState(open);
  if (open !== said) {
    hear(open);
    if (open === undefined || !mine.current.delete(open)) setAt(undefined);
  }
  const wanted = at ?? open;
  const found = rows.findIndex((row) => id(row) === wanted);
  // Where the row was that is gone, its neighbour stands.
  const current = found >= 0 ? found : at === undefined ? 0 : Math.max(0, Math.min(rows.length - 1, place));
  const marks = useMarks(rows, id);
  const move = (index: number) => {
    const row = rows[index];
    if (row === undefined) return;
    marks.forget();
    setAt(id(row));
    setPlace(index);
    if (open !== undefined) mine.current.add(id(row));
    onMove?.(row);
  };
  const choose = (some: R[], on: boolean) => {
    const next = new Set(chosen);
    for (const row of some) on ? next.add(id(row)) : next.delete(id(row));
    setChosen(next);
  };
  return {
    columns,
    id,
    kept,
    keep,
    filter: text ? { sought, setSought } : undefined,
    whole: all.length,
    rows,
    source: { total: rows.length, at: (index: number) => rows[index] } as Rows<R>,
    current,
    row: rows[current],
    marks: marking ? marks : undefined,
    /** Whether the current row is open: where the address says which is, only that one. */
    opened: !opensNothing && (open === undefined || found >= 0),
    move,
    /** The chosen rows that are shown. */
    chosen: rows.filter((row) => chosen.has(id(row))),
    chooses: (label: (row: R) => string): Choice<R> => ({ has: (row) => chosen.has(id(row)), set: choose, label }),
    forget: () => setChosen(new Set()),
  };
}

/** What is looked for as one types; what is found is not known as long as it waits. */
interface Filter {
  sought: string;
  setSought: (text: string) => void;
  waits?: boolean;
}

interface PagedOptions<R> extends Pick<Options<R>, "name" | "columns" | "id">, Rows<R> {
  /** What is asked for: of something else the first row is the current one. */
  of: unknown;
  /** Heads sort, where the server is asked in their order. */
  sorts?: boolean;
  /** What is looked for as one types, where the server is asked for it. */
  filter?: Filter;
  /** What stands at the foot of a column: of all rows, here or not. */
  sums?: Record<string, ReactNode>;
  /** How many there are without what the filter looks for, where it is known. */
  among?: number;
  /** Where the row is that is open when the list is, where the address says which; below 0: nowhere. */
  place?: number;
  onMove?: (row: R) => void;
}

/** A list whose rows are read from the server as they come into sight: the server has its order, filter and sums. */
export function usePagedList<R>(options: PagedOptions<R>) {
  const { name, columns, id, of, sorts, filter, sums, total, at, see, among, place, onMove } = options;
  const { kept, keep } = useKept(name);
  const [moved, setMoved] = useState<number>();
  const asked = JSON.stringify(of);
  const [shown, show] = useState(asked);
  if (shown !== asked) {
    show(asked);
    setMoved(undefined);
  }
  const current = moved ?? Math.max(0, place ?? 0);
  return {
    columns,
    id,
    kept: sorts ? kept : { ...kept, order: undefined },
    keep,
    filter,
    /** With a filter it is not known whether there is anything without. */
    whole: among ?? (filter?.sought ? undefined : total),
    source: { total, at, see },
    sums,
    current: Math.min(current, Math.max(0, total - 1)),
    marks: undefined as Marks<R> | undefined,
    opened: place === undefined || place >= 0 || moved !== undefined,
    row: at(current),
    move: (index: number) => {
      setMoved(index);
      const row = at(index);
      if (row !== undefined) onMove?.(row);
    },
  };
}

export type ListState<R> = Pick<
  ReturnType<typeof useList<R>>,
  "columns" | "id" | "kept" | "keep" | "source" | "current" | "marks" | "opened" | "move"
> & { whole?: number; filter?: Filter; sums?: Record<string, ReactNode> };
