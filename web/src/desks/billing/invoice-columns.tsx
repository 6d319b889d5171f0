import { FillMark, stateWords } from "../../frame/fill-mark";
import { money, text } from "../../frame/list/columns";
import type { Column } from "../../frame/list/use-list";
import tableCss from "../../frame/table.module.css";
import type { Summary } from "./use-billing";

/** Whose it is. */
export const whose: Column<Summary> = text("Client and engagements", (row) => row.client, {
  names: "light",
  title: (row) => row.engagements,
  cell: (row) => (
    <>
      {row.client}
      <span className="under">{row.engagements}</span>
    </>
  ),
});

/** Its mark with its number, or with its state. */
export const standing = (name: string): Column<Summary> =>
  text(name, (row) => row.number || stateWords[row.state], {
    title: undefined,
    cell: (row) => (
      <>
        <span className={tableCss.marked}>
          <FillMark state={row.state} /> {row.number || stateWords[row.state]}
        </span>
        {(row.beside || row.state === "part_paid") && (
          <span className="under">{row.beside || stateWords[row.state]}</span>
        )}
      </>
    ),
  });

/** What it comes to. */
export const sums: Column<Summary>[] = [
  money("Net", (row) => row.net),
  money("Tax", (row) => row.tax, { bare: true }),
  money("Total, gross", (row) => row.total, { bare: true }),
];
