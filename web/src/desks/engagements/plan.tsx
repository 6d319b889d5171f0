import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { long } from "../../frame/days";
import { Money } from "../../frame/figure";
import { money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";

type Bill = Schema["PlannedCharge"];

const columns: Column<Bill>[] = [
  text("Bill", (row) => long(row.bill) || row.event, { names: "light", whole: true }),
  text("What", (row) => row.text, {
    cell: (row) => (
      <>
        {row.text}
        {row.paused && <span className="soft"> paused</span>}
        {row.byHand && !row.open && <span className="soft"> by hand</span>}
      </>
    ),
  }),
  text("For", (row) => (row.from ? `${long(row.from)} to ${long(row.to)}` : ""), { whole: true, tone: () => "soft" }),
  money("Net", (row) => row.amount, {
    cell: (row) => (row.open ? <span className="soft">when billed</span> : <Money of={row.amount} />),
  }),
];

/** The bills that were agreed, with their dates; what waits for an event comes last. */
export function Plan({ id }: { id: number }) {
  const plan = useRead("/api/engagements/{id}/plan", { path: { id } });
  const rows = plan.data ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="Plan of bills">
      <h2 className="sub">Plan of bills</h2>
      <Table rows={rows} columns={columns} id={(row) => row.id} />
    </section>
  );
}
