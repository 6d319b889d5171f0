import { useState } from "react";

type Id = string | number;

/** Rows that are marked beside the current one, by Shift or Ctrl: what is done is done to all of them. */
export function useMarks<R>(rows: R[], id: (row: R) => Id) {
  const [marks, mark] = useState<{ from: Id; ids: ReadonlySet<Id> }>();
  const at = (id_: Id | undefined) => rows.findIndex((row) => id(row) === id_);
  return {
    has: (row: R) => marks?.ids.has(id(row)) ?? false,
    /** The marked rows that are shown. */
    rows: rows.filter((row) => marks?.ids.has(id(row))),
    /** All rows from where marking began, or from the current row, to another. */
    through: (current: number, to: number) => {
      const began = at(marks?.from);
      const from = began >= 0 ? began : current;
      const first = rows[from];
      if (first === undefined) return;
      const passed = rows.slice(Math.min(from, to), Math.max(from, to) + 1);
      mark({ from: id(first), ids: new Set(passed.map(id)) });
    },
    /** One more row, or one less. */
    also: (current: number, to: number) => {
      const [here, row] = [rows[current], rows[to]];
      if (here === undefined || row === undefined) return;
      const ids = new Set(marks?.ids ?? [id(here)]);
      if (!ids.delete(id(row))) ids.add(id(row));
      mark({ from: id(row), ids });
    },
    forget: () => mark(undefined),
  };
}

export type Marks<R> = ReturnType<typeof useMarks<R>>;
