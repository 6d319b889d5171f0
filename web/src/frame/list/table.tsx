import { clsx } from "clsx";
import { Fragment, type ReactNode } from "react";
import tableCss from "../table.module.css";
import { Cell, Foot } from "./cell";
import type { Column } from "./use-list";

interface Props<R> {
  /** What it is: over it, or for who can't see it. */
  caption?: string;
  label?: string;
  rows: R[];
  columns: Column<R>[];
  id: (row: R, index: number) => string | number;
  /** As wide as its place with lines between, or close as in a folio. */
  look?: "grid" | "plain" | "entries";
  /** Columns that say themselves what they are have no heads. */
  headless?: boolean;
  /** With the sums of its columns at the foot. */
  sums?: boolean;
  tone?: (row: R) => string | false | undefined;
  /** What opens under a row. */
  under?: (row: R) => ReactNode;
  className?: string;
}

export const looks = { grid: tableCss.grid, plain: tableCss.plain, entries: clsx(tableCss.plain, tableCss.entries) };

/** A short table within a page, of the columns of a list: for what is only read. */
export function Table<R>(props: Props<R>) {
  const { caption, label, rows, columns, id, look = "grid", headless, sums, tone, under, className } = props;
  return (
    <table className={clsx(looks[look], className)} aria-label={label}>
      {caption && <caption>{caption}</caption>}
      {!headless && (
        <thead>
          <tr>
            {columns.map((c) => (
              <th key={c.name} scope="col" className={c.number ? "number" : undefined} style={{ width: c.width }}>
                {c.head ?? c.name}
              </th>
            ))}
          </tr>
        </thead>
      )}
      <tbody>
        {rows.map((row, index) => {
          const opened = under?.(row);
          return (
            <Fragment key={id(row, index)}>
              <tr className={tone?.(row) || undefined}>
                {columns.map((c) => (
                  <Cell key={c.name} column={c} row={row} />
                ))}
              </tr>
              {opened && (
                <tr>
                  <td colSpan={columns.length}>{opened}</td>
                </tr>
              )}
            </Fragment>
          );
        })}
      </tbody>
      {sums && <Foot columns={columns} rows={rows} box={false} />}
    </table>
  );
}
