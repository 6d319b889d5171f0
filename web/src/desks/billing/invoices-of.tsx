import { Link } from "react-router";
import { FillMark } from "../../frame/fill-mark";
import { days, money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import tableCss from "../../frame/table.module.css";
import type { Summary } from "./use-billing";

const shown = 12;

interface Props {
  rows: Summary[];
  /** How many there are, where not all are here. */
  count?: number;
  /** Where all of them are. */
  more: string;
  /** What stands beside the number. */
  of: (invoice: Summary) => string;
}

const columns = (of: Props["of"]): Column<Summary>[] => [
  text("Number", (invoice) => invoice.number, {
    names: "strong",
    cell: (invoice) => (
      <Link to={`/billing/${invoice.id}`} className={tableCss.marked}>
        <FillMark state={invoice.state} /> {invoice.number || "Draft"}
      </Link>
    ),
  }),
  text("Of", of),
  days("Dated", (invoice) => invoice.dated),
  text("Late", (invoice) => (invoice.daysLate > 0 ? `${invoice.daysLate} days late` : ""), {
    whole: true,
    tone: () => "lost",
  }),
  money("Open", (invoice) => (invoice.open.minor === 0 ? undefined : invoice.open), { tone: () => "soft" }),
  money("Total", (invoice) => invoice.total),
];

/** The last invoices and the drafts of a client or an engagement. */
export function InvoicesOf({ rows, count = rows.length, more, of }: Props) {
  if (rows.length === 0) return null;
  return (
    <section aria-label="Invoices">
      <h2 className="sub">Invoices</h2>
      <Table rows={rows.slice(0, shown)} columns={columns(of)} id={(invoice) => invoice.id} />
      {rows.length > shown && <Link to={more}>All {count} in the register</Link>}
    </section>
  );
}
