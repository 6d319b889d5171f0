import { Link } from "react-router";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { instant, long } from "../../frame/days";
import { Table } from "../../frame/list/table";
import { type Handing, stateWords, wayWords } from "../billing/use-delivery";

const shown = 10;

/** What was handed to a client last, by which way, and what became of it. */
export function HandedOver({ id }: { id: number }) {
  const { role } = useSession();
  const mayRead = role === "administrator" || role === "owner";
  const rows =
    useRead("/api/deliveries", { query: { client: id, state: "", offset: 0, limit: shown } }, { when: mayRead }).data ??
    [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="Handed over">
      <h2 className="sub">Handed over</h2>
      <Table
        rows={rows}
        id={(handing: Handing) => `${handing.id} ${handing.invoiceId}`}
        columns={[
          {
            name: "Number",
            names: "light",
            cell: (handing) => <Link to={`/billing/${handing.invoiceId}`}>{handing.number}</Link>,
          },
          { name: "To", cell: (handing) => handing.mail || handing.to },
          { name: "How", cell: (handing) => wayWords[handing.way] },
          {
            name: "State",
            cell: (handing) => (
              <span className={handing.state === "failed" ? "lost" : undefined}>
                {stateWords[handing.state]}
                {handing.fetchedAt ? ", file fetched" : handing.openedAt && ", opened"}
              </span>
            ),
          },
          { name: "When", whole: true, cell: (handing) => (handing.day ? long(handing.day) : instant(handing.madeAt)) },
        ]}
      />
      {rows.length === shown && <Link to={`/billing?show=register&client=${id}`}>All of its invoices</Link>}
    </section>
  );
}
