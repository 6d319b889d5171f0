import { Link } from "react-router";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import { InvoicesOf } from "../billing/invoices-of";
import { useRegister } from "../billing/use-billing";
import { ExpensesOf, TimeOf } from "../time/work-of";
import { Fee } from "../wip/fee";

interface Props {
  id: number;
  name: string;
  clientId: number;
  today: string;
}

/** What belongs to an engagement: how its fee stands, its bills, time and expenses, and money that is held for it. */
export function There({ id, name, clientId, today }: Props) {
  const { role } = useSession();
  const bills = role !== "staff";
  const work = useRead("/api/wip/engagements/{id}", { path: { id }, query: { upTo: today } }, { when: bills });
  const drafts = useRead("/api/drafts", { query: { engagement: id } }, { when: bills });
  const issued = useRegister({ engagement: id }, bills);
  return (
    <>
      {work.data?.fee && (
        <section aria-label="The fee">
          <h2 className="sub">The fee</h2>
          <Fee fee={work.data.fee} />
        </section>
      )}
      <InvoicesOf
        rows={[...(drafts.data ?? []), ...(issued.data?.invoices ?? [])]}
        count={(drafts.data?.length ?? 0) + (issued.data?.total ?? 0)}
        more={`/billing?show=register&engagement=${id}`}
        of={(invoice) => (invoice.engagements === name ? "" : invoice.engagements)}
      />
      <TimeOf on={{ engagements: String(id) }} />
      <ExpensesOf on={{ engagements: String(id) }} />
      {bills && <Held id={clientId} name={name} />}
    </>
  );
}

/** Money of the client that its bills can take. */
function Held({ id, name }: { id: number; name: string }) {
  const held = useRead("/api/funds", { query: { client: id } });
  const rows = (held.data ?? []).filter((fund) => fund.engagement === "" || fund.engagement === name);
  if (rows.every((fund) => fund.held.minor === 0)) return null;
  return (
    <section aria-label="Money held">
      <h2 className="sub">Money held</h2>
      <Table
        rows={rows}
        id={(fund) => fund.id}
        columns={[
          text<(typeof rows)[number]>("For", (fund) => fund.engagement || "the client", { names: "light" }),
          money<(typeof rows)[number]>("Held", (fund) => fund.held),
          money<(typeof rows)[number]>("On drafts", (fund) => fund.reserved),
        ]}
      />
      <Link to={`/receivables?show=funds&client=${id}`}>Held for clients</Link>
    </section>
  );
}
