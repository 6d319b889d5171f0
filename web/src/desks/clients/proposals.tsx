import { Link } from "react-router";
import { long } from "../../frame/days";
import { Money } from "../../frame/figure";
import tableCss from "../../frame/table.module.css";
import { stateWords, useProposals } from "../pricing/use-proposal";

/** What was proposed to a client. */
export function ClientProposals({ id }: { id: number }) {
  const rows = useProposals(id).data?.rows ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="Proposals">
      <h2 className="sub">Proposals</h2>
      <table className={tableCss.grid}>
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <th scope="row">
                <Link to={`/pricing/${row.id}`}>{row.name}</Link> <span className="soft">{row.number}</span>
              </th>
              <td>{stateWords[row.state]}</td>
              <td className="nowrap">{row.answered ? long(row.answered) : `until ${long(row.validUntil)}`}</td>
              <td className="number">
                <Money of={row.firstYear} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
