import { clsx } from "clsx";
import dayjs from "dayjs";
import { useRef } from "react";
import type { Schema } from "../../api/client";
import { hoursText } from "../../api/hours";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Explained } from "../../frame/explain";
import { hours, Moneys, useMoneyText } from "../../frame/figure";
import { useFolio } from "../../frame/folio";
import tableCss from "../../frame/table.module.css";
import { AddRow } from "./add-row";
import { type CellActs, CellInput } from "./cell-input";
import { type Edit, entriesAt, type Place, type RowHead, rowKey, rowsOf, type useCells } from "./use-cells";
import type { Week, WeekRow } from "./use-week";
import weekCss from "./week.module.css";
import { billedWord } from "./words";

interface Props {
  week: Week;
  today: string;
  readOnly: boolean;
  /** Whether there can be other entries than those that are there. */
  mayAdd: boolean;
  cells: ReturnType<typeof useCells>;
  choices?: Schema["Choices"];
  place: Place | null;
  onPlace: (place: Place) => void;
  onChange: (place: Place, part: Partial<Edit["typed"]>) => void;
  onCommit: (place: Place) => Promise<boolean>;
}

const weekend = (day: string) => [0, 6].includes(dayjs(day).day());

/** The week as a grid: a row for each engagement, service and treatment. */
export function Sheet(props: Props) {
  const { week, today, cells } = props;
  const rows = rowsOf(week, cells.extra);
  const grid = useRef<HTMLTableElement>(null);
  const dayClass = (day: string) => clsx(weekend(day) && weekCss.weekend, day === today && "today");
  const focus = (row: number, column: number) =>
    grid.current?.querySelector<HTMLInputElement>(`[data-cell="${row}:${column}"]`)?.focus();
  const acts = useCellActs(props, focus);
  const values = useSession().seesValues;
  return (
    <div className={deskCss.sheet}>
      <table className={clsx(tableCss.grid, weekCss.week)} ref={grid} aria-label={`Week ${week.number}`}>
        <WeekHead week={week} values={values} dayClass={dayClass} />
        <tbody>
          {rows.map((row, rowIndex) => (
            <tr key={rowKey(row)}>
              <th scope="row">
                {row.engagement}
                <span className="under">
                  {row.client} · {row.service}
                </span>
              </th>
              <td className="soft">{billedWord(row)}</td>
              {week.days.map((head, column) => (
                <td key={head.day} className={`${weekCss.cell} number ${dayClass(head.day)}`}>
                  <WeekCell {...props} row={row} head={head} at={`${rowIndex}:${column}`} acts={acts} />
                </td>
              ))}
              <td className="number">{hours(row.minutes ?? 0)}</td>
              {values && (
                <td className="number">
                  <RowValue row={row} />
                </td>
              )}
            </tr>
          ))}
          {props.mayAdd && (
            <tr>
              <td colSpan={11} className={weekCss.addRow}>
                <AddRow
                  choices={props.choices}
                  onAdd={(row) => {
                    cells.addRow(row);
                    const column = week.days.findIndex((d) => d.day === today);
                    requestAnimationFrame(() => focus(rows.length, Math.max(0, column)));
                  }}
                />
              </td>
            </tr>
          )}
        </tbody>
        <WeekFoot week={week} today={today} values={values} dayClass={dayClass} />
      </table>
    </div>
  );
}

/** What a cell does; the same object from draw to draw, so that only the cells that change are drawn. */
function useCellActs(props: Props, focus: (row: number, column: number) => void): CellActs {
  const folio = useFolio();
  const latest = useRef({ ...props, focus, folio });
  latest.current = { ...props, focus, folio };
  return useRef<CellActs>({
    place: (place) => latest.current.onPlace(place),
    change: (place, worked) => latest.current.onChange(place, { worked, started: "", ended: "" }),
    commit: (place) => latest.current.onCommit(place),
    drop: (place) => latest.current.cells.drop(place),
    focus: (row, column) => latest.current.focus(row, column),
    turnToFolio: () => latest.current.folio.turn(true),
  }).current;
}

type CellProps = Props & { row: RowHead; head: Schema["DayHead"]; at: string; acts: CellActs };

function WeekCell({ week, cells, place, readOnly, mayAdd, row, head, at, acts }: CellProps) {
  const key = rowKey(row);
  const entries = entriesAt(week, key, head.day);
  const first = entries[0];
  const edit = cells.get({ row: key, day: head.day, entryId: first?.id ?? 0 });
  return (
    <CellInput
      row={key}
      day={head.day}
      at={at}
      label={`${row.engagement}, ${row.service}, ${billedWord(row)}, ${dayjs(head.day).format("dddd D MMMM")}`}
      entries={entries}
      edit={edit}
      chosen={place?.row === key && place.day === head.day}
      readOnly={readOnly || (!mayAdd && !first)}
      acts={acts}
    />
  );
}

function WeekHead({ week, values, dayClass }: Omit<FootProps, "today">) {
  return (
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
        {values && (
          <th scope="col" className="number">
            Value
          </th>
        )}
      </tr>
    </thead>
  );
}

interface FootProps {
  week: Week;
  today: string;
  values: boolean;
  dayClass: (day: string) => string;
}

// Less than a tenth of an hour would read 0.0.
const leftOf = (minutes: number) => (minutes < 3 ? 0 : minutes);

function WeekFoot({ week, today, values, dayClass }: FootProps) {
  return (
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
        {values && (
          <td className="number">
            <Moneys of={week.values} />
          </td>
        )}
      </tr>
      <tr className={weekCss.leftOf}>
        <th scope="row" colSpan={2}>
          Left of capacity
        </th>
        {week.days.map((head) => {
          const left = leftOf(head.left);
          const missing = left > 0 && head.day < today;
          return (
            <td key={head.day} className={`number ${dayClass(head.day)} ${missing ? "lost" : ""}`}>
              {head.capacity ? hoursText(left) : ""}
            </td>
          );
        })}
        <td className="number">{hoursText(leftOf(week.left))}</td>
        {values && <td />}
      </tr>
    </tfoot>
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
