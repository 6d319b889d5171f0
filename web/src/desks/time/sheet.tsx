import { Tooltip } from "antd";
import dayjs from "dayjs";
import { type KeyboardEvent, useRef } from "react";
import type { Schema } from "../../api/client";
import { Explained } from "../../frame/explain";
import { hours, Moneys, useMoneyText } from "../../frame/figure";
import { useFolio } from "../../frame/folio";
import { AddRow } from "./add-row";
import { entriesAt, type Place, type RowHead, rowKey, rowsOf, type useCells } from "./use-cells";
import type { Week, WeekRow } from "./use-week";

interface Props {
  week: Week;
  today: string;
  readOnly: boolean;
  cells: ReturnType<typeof useCells>;
  choices?: Schema["Choices"];
  place: Place | null;
  onPlace: (place: Place) => void;
  onChange: (place: Place, part: { worked: string }) => void;
  onCommit: (place: Place) => Promise<boolean>;
}

export const treatmentWords = { billable: "yes", no_charge: "no charge", not_billable: "no" } as const;

/** The week as a grid: a row for each engagement, service and treatment. */
export function Sheet(props: Props) {
  const { week, today, cells } = props;
  const rows = rowsOf(week, cells.extra);
  const grid = useRef<HTMLTableElement>(null);
  const weekend = (day: string) => [0, 6].includes(dayjs(day).day());
  const dayClass = (day: string) => [weekend(day) ? "weekend" : "", day === today ? "today" : ""].join(" ").trim();
  const focus = (row: number, column: number) =>
    grid.current?.querySelector<HTMLInputElement>(`[data-cell="${row}:${column}"]`)?.focus();
  return (
    <div className="sheet">
      <table className="grid week" ref={grid} aria-label={`Week ${week.number}`}>
        <thead>
          <tr>
            <th scope="col">Engagement and service</th>
            <th scope="col">Billed</th>
            {week.days.map((head) => (
              <th scope="col" key={head.day} className={`number ${dayClass(head.day)}`}>
                {dayjs(head.day).format("ddd D")}
              </th>
            ))}
            <th scope="col" className="number">
              Total
            </th>
            <th scope="col" className="number">
              Value
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, rowIndex) => (
            <tr key={rowKey(row)}>
              <th scope="row">
                {row.engagement}
                <span className="under">
                  {row.client} · {row.service}
                </span>
              </th>
              <td className="soft">{treatmentWords[row.treatment]}</td>
              {week.days.map((head, column) => (
                <td key={head.day} className={`cell number ${dayClass(head.day)}`}>
                  <CellInput
                    {...props}
                    row={rowKey(row)}
                    label={`${row.engagement}, ${row.service}, ${treatmentWords[row.treatment]}, ${dayjs(head.day).format("dddd D MMMM")}`}
                    day={head.day}
                    at={[rowIndex, column]}
                    focus={focus}
                  />
                </td>
              ))}
              <td className="number">{hours(row.minutes ?? 0)}</td>
              <td className="number">
                <RowValue row={row} />
              </td>
            </tr>
          ))}
          {!props.readOnly && (
            <tr>
              <td colSpan={11} className="add-row">
                <AddRow
                  choices={props.choices}
                  onAdd={(row) => {
                    cells.addRow(row);
                    requestAnimationFrame(() =>
                      focus(
                        rows.length,
                        Math.max(
                          0,
                          week.days.findIndex((d) => d.day === today),
                        ),
                      ),
                    );
                  }}
                />
              </td>
            </tr>
          )}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row" colSpan={2}>
              Day
            </th>
            {week.days.map((head) => (
              <td key={head.day} className={`number ${dayClass(head.day)}`}>
                {hours(head.minutes)}
              </td>
            ))}
            <td className="number">{hours(week.minutes)}</td>
            <td className="number">
              <Moneys of={week.values} />
            </td>
          </tr>
          <tr className="left-of">
            <th scope="row" colSpan={2}>
              Left of capacity
            </th>
            {week.days.map((head) => {
              // Less than a tenth of an hour would read 0.0.
              const left = head.left < 3 ? 0 : head.left;
              const missing = left > 0 && head.day < today;
              return (
                <td key={head.day} className={`number ${dayClass(head.day)} ${missing ? "lost" : ""}`}>
                  {head.capacity ? hours(left, "0") : ""}
                </td>
              );
            })}
            <td className="number">{hours(week.left < 3 ? 0 : week.left, "0")}</td>
            <td />
          </tr>
        </tfoot>
      </table>
    </div>
  );
}

/** The value of a row, which its entries make up. */
function RowValue({ row }: { row: RowHead & Partial<WeekRow> }) {
  const money = useMoneyText();
  if (!row.value || !row.explanation || row.value.minor === 0) return "–";
  return (
    <Explained step={row.explanation} label={`value of ${row.engagement}, ${row.service}`}>
      {money(row.value)}
    </Explained>
  );
}

interface CellProps extends Props {
  row: string;
  day: string;
  label: string;
  at: [number, number];
  focus: (row: number, column: number) => void;
}

/** One day of a row. A cell with several entries shows their sum; they are opened in the folio. */
function CellInput({
  week,
  cells,
  place,
  readOnly,
  row,
  day,
  label,
  at,
  onPlace,
  onChange,
  onCommit,
  focus,
}: CellProps) {
  const folio = useFolio();
  const entries = entriesAt(week, row, day);
  const only = entries.length === 1 ? entries[0] : undefined;
  const here: Place = { row, day, entryId: only?.id ?? entries[0]?.id ?? 0 };
  const edit = cells.get(here);
  const sum = entries.reduce((minutes, e) => minutes + e.minutes, 0);
  const several = entries.length > 1;
  const value = !several && edit ? edit.typed.worked : sum ? hours(sum) : "";
  const chosen = place?.row === row && place.day === day;
  const locked = readOnly || several || (only && only.billing !== "unbilled" && only.billing !== "not_billable");
  const noted = entries.some((e) => e.text !== "");
  const onKeyDown = async (event: KeyboardEvent<HTMLInputElement>) => {
    const input = event.currentTarget;
    const [r, c] = at;
    const end = input.selectionStart === input.value.length;
    const start = input.selectionEnd === 0 || (input.selectionStart === 0 && input.selectionEnd === input.value.length);
    if (event.key === "ArrowDown") focus(r + 1, c);
    else if (event.key === "ArrowUp") focus(r - 1, c);
    else if (event.key === "ArrowLeft" && start) focus(r, c - 1);
    else if (event.key === "ArrowRight" && end) focus(r, c + 1);
    else if (event.key === "Escape") cells.drop(here);
    else if (event.key === "F2") {
      folio.turn(true);
      requestAnimationFrame(() => document.getElementById("entry-text")?.focus());
    } else if (event.key === "Enter") {
      event.preventDefault();
      if (await onCommit(here)) focus(r + 1, c);
      return;
    } else return;
    event.preventDefault();
  };
  return (
    <Tooltip title={edit?.problem?.message} open={Boolean(edit?.problem) && chosen} placement="bottom" color="#A23B25">
      <input
        className={chosen ? "cell-input chosen" : "cell-input"}
        data-cell={at.join(":")}
        aria-label={label}
        aria-invalid={edit?.problem ? true : undefined}
        readOnly={Boolean(locked)}
        value={value}
        autoComplete="off"
        onFocus={(event) => {
          onPlace(here);
          event.target.select();
        }}
        onChange={(event) => onChange(here, { worked: event.target.value })}
        onBlur={(event) => {
          // Going on to another cell saves there; going on to the folio goes on with the same entry.
          const to = event.relatedTarget;
          if (to instanceof Element && to.closest(".folio, .tally, [data-cell]")) return;
          if (edit && !edit.problem) onCommit(here);
        }}
        onKeyDown={onKeyDown}
      />
      <span className="cell-note" aria-hidden>
        {several ? `${entries.length} entries` : edit ? "not saved" : noted ? "text" : ""}
      </span>
    </Tooltip>
  );
}
