import { useRef, useState } from "react";
import type { Problem } from "../../api/client";
import { hoursTyped } from "../../api/hours";
import { typedNumber } from "../../frame/figure";
import type { Entry, Treatment, TypedEntry, Week, WeekRow } from "./use-week";

/** A row of the grid, kept although it has no time yet. */
export type RowHead = Pick<
  WeekRow,
  "engagementId" | "engagement" | "client" | "serviceId" | "service" | "treatment" | "covered"
>;

export const rowKey = (row: Pick<RowHead, "engagementId" | "serviceId" | "treatment">) =>
  `${row.engagementId}-${row.serviceId}-${row.treatment}`;

/** Where one is in the grid: a cell, and the entry in it, 0 for a new one. */
export interface Place {
  row: string;
  day: string;
  entryId: number;
}

export const placeKey = (place: Place) => `${place.row}|${place.day}|${place.entryId}`;

/** What has been typed and is not saved: it stays until it is, also when it was refused. */
export interface Edit {
  typed: Omit<TypedEntry, "personId" | "engagementId" | "serviceId" | "day">;
  problem?: Problem;
}

/**
 * The edits of a person's sheet. They are read from a ref, so that an event that follows a save at once does not see what
 * was saved as still typed.
 */
export function useCells(person: number) {
  const latest = useRef<Record<string, Edit>>({});
  const [, draw] = useState(latest.current);
  const [extra, setExtra] = useState<Record<number, RowHead[]>>({});
  const keyOf = (place: Place) => `${person}|${placeKey(place)}`;
  const write = (all: Record<string, Edit>) => {
    latest.current = all;
    draw(all);
  };
  const get = (place: Place): Edit | undefined => latest.current[keyOf(place)];
  const put = (place: Place, edit: Edit) => write({ ...latest.current, [keyOf(place)]: edit });
  const drop = (place: Place) => {
    const { [keyOf(place)]: _, ...rest } = latest.current;
    write(rest);
  };
  const own = extra[person] ?? [];
  const addRow = (row: RowHead) =>
    setExtra({ ...extra, [person]: [...own.filter((r) => rowKey(r) !== rowKey(row)), row] });
  return { get, put, drop, extra: own, addRow };
}

/** How the firm types numbers, and the decimals of its currencies that are not of two. */
export interface Typing {
  mark: string;
  decimals: Record<string, number>;
}

/** What an entry reads like when it is typed again; a new one has nothing yet. */
export function typedOf(entry: Entry | undefined, treatment: Treatment, { mark, decimals }: Typing): Edit["typed"] {
  if (!entry) return { worked: "", notBillable: "", text: "", note: "", treatment };
  const places = decimals[entry.flat?.currency ?? ""] ?? 2;
  return {
    worked: hoursTyped(entry.minutes, mark),
    until: entry.until || undefined,
    rateFrom: entry.rateFrom,
    started: entry.started,
    ended: entry.ended,
    notBillable: entry.notBillable ? hoursTyped(entry.notBillable, mark) : "",
    expected: entry.expected ? hoursTyped(entry.expected, mark) : "",
    text: entry.text,
    note: entry.note,
    reference: entry.reference,
    treatment: entry.treatment,
    phaseId: entry.phaseId,
    perHour: entry.perHour === undefined ? "" : typedNumber(entry.perHour, 4, mark, 2),
    markup: entry.markup === undefined ? "" : typedNumber(entry.markup, 4, mark, 0),
    flat: entry.flat ? typedNumber(entry.flat.minor, places, mark) : "",
    returns: entry.returns,
    hold: entry.hold,
  };
}

/** What a copy of an entry begins with: everything but its time and its files. */
export function copyOf(entry: Entry, typing: Typing): Edit["typed"] {
  return { ...typedOf(entry, entry.treatment, typing), worked: "", started: "", ended: "", returns: false, hold: "" };
}

/** The rows of the sheet, with those that were added by hand. */
export function rowsOf(week: Week, extra: RowHead[]): (RowHead & Partial<WeekRow>)[] {
  const known = new Set(week.rows.map(rowKey));
  return [...week.rows, ...extra.filter((row) => !known.has(rowKey(row)))];
}

const none: Entry[] = [];

/** The entries of a cell. */
export function entriesAt(week: Week, row: string, day: string): Entry[] {
  const at = week.days.findIndex((head) => head.day === day);
  return week.rows.find((r) => rowKey(r) === row)?.cells[at]?.entries ?? none;
}

/** Where an entry is in the sheet, if it is there. */
export function placeOf(week: Week, entryId: number): Place | null {
  for (const row of week.rows)
    for (const entry of row.cells.flatMap((cell) => cell.entries))
      if (entry.id === entryId) return { row: rowKey(row), day: entry.day, entryId };
  return null;
}
