import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { long } from "../../frame/days";
import { money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { stateWords, useProposals } from "../pricing/use-proposal";

type Row = Schema["ProposalRow"];

const columns: Column<Row>[] = [
  text("Proposal", (row) => row.name, {
    names: "strong",
    cell: (row) => (
      <>
        <Link to={`/pricing/${row.id}`}>{row.name}</Link> <span className="soft">{row.number}</span>
      </>
    ),
  }),
  text("State", (row) => stateWords[row.state]),
  text("Day", (row) => (row.answered ? long(row.answered) : `until ${long(row.validUntil)}`), { whole: true }),
  money("First year", (row) => row.firstYear),
];

/** What was proposed to a client. */
export function ClientProposals({ id }: { id: number }) {
  const rows = useProposals(id).data?.rows ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="Proposals">
      <h2 className="sub">Proposals</h2>
      <Table headless rows={rows} columns={columns} id={(row) => row.id} />
    </section>
  );
}
