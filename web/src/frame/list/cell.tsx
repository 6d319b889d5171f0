import type { ReactNode } from "react";
import listCss from "./list.module.css";
import type { Column } from "./use-list";

/** What stands in a column of a row. */
export function Cell<R>({ column, row, width }: { column: Column<R>; row: R; width?: number }) {
  const classes = [
    column.number && "number",
    column.whole && "nowrap",
    column.names === "light" && "light",
    width && listCss.clipped,
    column.tone?.(row),
  ];
  const own = {
    className: classes.filter(Boolean).join(" ") || undefined,
    title: column.title?.(row),
    style: width ? { maxWidth: width } : undefined,
  };
  return column.names ? (
    <th scope="row" {...own}>
      {column.cell(row)}
    </th>
  ) : (
    <td {...own}>{column.cell(row)}</td>
  );
}

interface FootProps<R> {
  columns: Column<R>[];
  rows: R[];
  /** What the server says that all come to, in place of what the rows do. */
  sums?: Record<string, ReactNode>;
  box: boolean;
}

/** The sums of what is shown. */
export function Foot<R>({ columns, rows, sums, box }: FootProps<R>) {
  return (
    <tfoot>
      <tr>
        {box && <td />}
        <SumCells columns={columns} rows={rows} sums={sums} />
      </tr>
    </tfoot>
  );
}

/** The sums of some rows, each in its column. */
export function SumCells<R>({ columns, rows, sums, from = 0 }: Omit<FootProps<R>, "box"> & { from?: number }) {
  const name = columns.find((c) => c.names);
  const words = (row: R) => String(name?.title?.(row) ?? name?.by?.(row) ?? "");
  return columns.slice(from).map((c) =>
    c.names ? (
      <th key={c.name} scope="row">
        {c.sum ? c.sum(rows, words) : "Sum"}
      </th>
    ) : (
      <td key={c.name} className={c.number ? "number" : undefined}>
        {sums ? sums[c.name] : c.sum?.(rows, words)}
      </td>
    ),
  );
}
