import { clsx } from "clsx";
import { type KeyboardEvent, memo } from "react";
import { exactly } from "../../api/hours";
import tallyCss from "../../frame/tally.module.css";
import type { Edit, Place } from "./use-cells";
import type { Entry } from "./use-week";
import weekCss from "./week.module.css";

export interface CellActs {
  place: (place: Place) => void;
  change: (place: Place, worked: string) => void;
  commit: (place: Place) => Promise<boolean>;
  drop: (place: Place) => void;
  focus: (row: number, column: number) => void;
  turnToFolio: () => void;
}

interface Props {
  row: string;
  day: string;
  /** Row and column in the grid, as "2:4". */
  at: string;
  label: string;
  entries: Entry[];
  edit?: Edit;
  chosen: boolean;
  readOnly: boolean;
  acts: CellActs;
}

/** Whether the time of an entry can be typed over: it is neither billed nor on a draft. */
const isOpen = (entry: Entry) => entry.billing === "unbilled" || entry.billing === "not_billable";

/** One day of a row. A cell with several entries shows their sum; they are opened in the folio. */
export const CellInput = memo(function CellInput(props: Props) {
  const { row, day, at, label, entries, edit, chosen, readOnly, acts } = props;
  const [first] = entries;
  const several = entries.length > 1;
  const here: Place = { row, day, entryId: first?.id ?? 0 };
  const sum = entries.reduce((minutes, e) => minutes + e.minutes, 0);
  const shown = sum || entries.length > 0 ? exactly(sum) : "";
  const locked = readOnly || several || (first && !isOpen(first));
  const onKeyDown = async (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Escape") acts.drop(here);
    else if (event.key === "F2") {
      acts.turnToFolio();
      requestAnimationFrame(() => document.getElementById("entry-text")?.focus());
    } else if (event.key === "Enter") {
      event.preventDefault();
      if (await acts.commit(here)) moved(at, acts, [1, 0]);
      return;
    } else if (!moved(at, acts, step(event))) return;
    event.preventDefault();
  };
  const input = (
    <input
      className={chosen ? clsx("chosen", weekCss.cellInput) : weekCss.cellInput}
      data-cell={at}
      aria-label={label}
      aria-invalid={edit?.problem ? true : undefined}
      readOnly={Boolean(locked)}
      value={!several && edit ? edit.typed.worked : shown}
      autoComplete="off"
      onFocus={(event) => {
        acts.place(here);
        event.target.select();
      }}
      onChange={(event) => acts.change(here, event.target.value)}
      onBlur={(event) => {
        // Going on to another cell saves there; going on to the folio goes on with the same entry.
        const to = event.relatedTarget;
        if (to instanceof Element && to.closest(`aside, .${tallyCss.tally}, [data-cell]`)) return;
        if (edit && !edit.problem) acts.commit(here);
      }}
      onKeyDown={onKeyDown}
    />
  );
  return (
    <>
      {input}
      {edit?.problem && chosen && (
        <span className={weekCss.cellProblem} role="alert">
          {edit.problem.message}
        </span>
      )}
      <span className={weekCss.cellNote} aria-hidden>
        {noteOf(entries, edit)}
      </span>
    </>
  );
});

/** What stands small under the time. */
function noteOf(entries: Entry[], edit?: Edit): string {
  if (entries.length > 1) return `${entries.length} entries`;
  if (edit) return "not saved";
  if (entries.some((e) => e.flat)) return "flat";
  return entries.some((e) => e.text !== "") ? "text" : "";
}

/** Where an arrow goes: left and right only from the ends of what is typed. */
function step(event: KeyboardEvent<HTMLInputElement>): [number, number] | null {
  const { selectionStart, selectionEnd, value } = event.currentTarget;
  const whole = selectionStart === 0 && selectionEnd === value.length;
  if (event.key === "ArrowDown") return [1, 0];
  if (event.key === "ArrowUp") return [-1, 0];
  if (event.key === "ArrowLeft" && (selectionEnd === 0 || whole)) return [0, -1];
  if (event.key === "ArrowRight" && (selectionStart === value.length || whole)) return [0, 1];
  return null;
}

function moved(at: string, acts: CellActs, by: [number, number] | null): boolean {
  if (!by) return false;
  const [row, column] = at.split(":").map(Number) as [number, number];
  acts.focus(row + by[0], column + by[1]);
  return true;
}
