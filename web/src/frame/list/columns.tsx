import type { ReactNode } from "react";
import type { Amount } from "../../api/client";
import { long } from "../days";
import { Money, Moneys, Sums } from "../figure";
import tableCss from "../table.module.css";
import type { Column } from "./use-list";

type More<R> = Partial<Column<R>>;

/** A column of texts. */
export const text = <R,>(name: string, of: (row: R) => string | undefined, more: More<R> = {}): Column<R> => ({
  name,
  cell: of,
  by: (row) => of(row) ?? "",
  title: (row) => of(row) ?? "",
  ...more,
});

/** A column of days. */
export const days = <R,>(name: string, of: (row: R) => string | undefined, more: More<R> = {}): Column<R> => ({
  name,
  cell: (row) => long(of(row) ?? ""),
  by: (row) => of(row) ?? "",
  whole: true,
  ...more,
});

/** A column of counts; none is a dash. */
export const count = <R,>(name: string, of: (row: R) => number, more: More<R> = {}): Column<R> => ({
  name,
  number: true,
  cell: (row) => of(row) || "–",
  by: of,
  ...more,
});

/** A column of amounts with their sums at the foot, by currency; `bare` where another column of the row says the currency. */
export const money = <R,>(
  name: string,
  of: (row: R) => Amount | undefined,
  { bare, ...more }: More<R> & { bare?: boolean } = {},
): Column<R> => ({
  name,
  number: true,
  cell: (row) => {
    const amount = of(row);
    return amount && <Money of={amount} bare={bare} />;
  },
  by: (row) => of(row)?.minor ?? 0,
  sum: (rows, words) => <Sums label={name} parts={rows.map((row) => ({ of: words(row), amount: of(row) }))} />,
  ...more,
});

/** A column of amounts in several currencies. */
export const several = <R,>(name: string, of: (row: R) => Amount[], more: More<R> = {}): Column<R> => ({
  name,
  number: true,
  cell: (row) => <Moneys of={of(row)} />,
  by: (row) => of(row)[0]?.minor ?? 0,
  sum: (rows, words) => (
    <Sums label={name} parts={rows.flatMap((row) => of(row).map((amount) => ({ of: words(row), amount })))} />
  ),
  ...more,
});

/** A column of what can be done with a row. */
export const acting = <R,>(cell: (row: R) => ReactNode): Column<R> => ({
  name: "acts",
  head: "",
  cell,
  tone: () => tableCss.lineAct,
});
