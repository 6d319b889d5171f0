import { useRead } from "../../api/read";
import { long } from "../../frame/days";
import { Money } from "../../frame/figure";
import tableCss from "../../frame/table.module.css";

/** The bills that were agreed, with their dates; what waits for an event comes last. */
export function Plan({ id }: { id: number }) {
  const plan = useRead("/api/engagements/{id}/plan", { path: { id } });
  const rows = plan.data ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="Plan of bills">
      <h2 className="sub">Plan of bills</h2>
      <table className={tableCss.grid}>
        <thead>
          <tr>
            <th scope="col">Bill</th>
            <th scope="col">What</th>
            <th scope="col">For</th>
            <th scope="col" className="number">
              Net
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <th scope="row" className="light nowrap">
                {long(row.bill) || row.event}
              </th>
              <td>
                {row.text}
                {row.paused && <span className="soft"> paused</span>}
                {row.byHand && !row.open && <span className="soft"> by hand</span>}
              </td>
              <td className="nowrap soft">{row.from && `${long(row.from)} to ${long(row.to)}`}</td>
              <td className="number">
                {row.open ? <span className="soft">when billed</span> : <Money of={row.amount} />}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
