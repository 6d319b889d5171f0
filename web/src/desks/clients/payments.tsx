import { Link } from "react-router";
import { Table } from "../../frame/list/table";
import { paymentColumns } from "../receivables/payments-view";
import { usePayments } from "../receivables/use-receivables";

const shown = 6;

const columns = paymentColumns.filter((column) => column.name !== "Client");

/** What a client paid last. */
export function Payments({ id }: { id: number }) {
  const rows = usePayments(id).data ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="Payments">
      <h2 className="sub">Payments</h2>
      <Table rows={rows.slice(0, shown)} columns={columns} id={(payment) => payment.id} />
      {rows.length > shown && <Link to={`/receivables?show=payments&client=${id}`}>All {rows.length} payments</Link>}
    </section>
  );
}
