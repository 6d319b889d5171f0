import { Button, Input } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useAsked } from "../../api/read";
import { useSession } from "../../api/session";
import { short } from "../../frame/days";
import { Do } from "../../frame/do";
import { hours, Money } from "../../frame/figure";
import formCss from "../../frame/form/form.module.css";
import sentenceCss from "../../frame/sentence.module.css";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import budgetCss from "./budget.module.css";

const iso = /^\d{4}-\d{2}-\d{2}$/;

/** Values unbilled entries at the rates that hold now: before and after, entry by entry and in all, taken back as one. */
export function Rerate({ engagement, onDone }: { engagement: Schema["EngagementOverview"]; onDone: () => void }) {
  const { today } = useSession();
  const [from, setFrom] = useState(`${today.slice(0, 4)}-01-01`);
  const [to, setTo] = useState(today);
  const body: Schema["Rerating"] = { engagementId: engagement.id, from, to };
  const ready = iso.test(from) && iso.test(to);
  const preview = useAsked("/api/rerating/preview", { body }, { when: ready, keeps: true });
  const rerate = useAct(() => api.post("/api/rerating", { body }));
  const undo = useAct(
    (id: number) => api.delete("/api/rerating/{id}", { path: { id }, query: { engagement: engagement.id } }),
    {
      done: () => rerate.reset(),
    },
  );
  const problem = preview.error ?? rerate.error ?? undo.error;
  const found = preview.data;
  return (
    <section className={formCss.inPlace} aria-label="Re-rate">
      <h2>Re-rate unbilled entries</h2>
      <p className={sentenceCss.sentence}>
        From{" "}
        <Input aria-label="From" className={budgetCss.saidDay} value={from} onChange={(e) => setFrom(e.target.value)} />{" "}
        to <Input aria-label="To" className={budgetCss.saidDay} value={to} onChange={(e) => setTo(e.target.value)} />,
        at the rates that hold now. What is on a draft or billed stays.
      </p>
      <Refused by={problem} />
      {found && found.entries.length === 0 && !rerate.data && (
        <p className="soft">All {found.same} unbilled entries have the rate that holds.</p>
      )}
      {found && found.entries.length > 0 && <Difference found={found} />}
      <p className={formCss.newActs}>
        {rerate.data ? (
          <span role="status">
            Re-rated {rerate.data.entries.length} entries. <Do onClick={() => undo.mutate(rerate.data.actId)}>Undo</Do>
          </span>
        ) : (
          <Button
            type="primary"
            disabled={!found?.entries.length}
            loading={rerate.isPending}
            onClick={() => rerate.mutate()}
          >
            Re-rate {found?.entries.length ?? 0} {found?.entries.length === 1 ? "entry" : "entries"}
          </Button>
        )}
        <Button type="text" onClick={onDone}>
          Close
        </Button>
      </p>
    </section>
  );
}

function Difference({ found }: { found: Schema["Rerated"] }) {
  return (
    <table className={tableCss.grid}>
      <thead>
        <tr>
          <th scope="col">Entry</th>
          <th scope="col" className="number">
            Hours
          </th>
          <th scope="col" className="number">
            Rate before
          </th>
          <th scope="col" className="number">
            Rate now
          </th>
          <th scope="col">Whose</th>
          <th scope="col" className="number">
            Before
          </th>
          <th scope="col" className="number">
            After
          </th>
        </tr>
      </thead>
      <tbody>
        {found.entries.map((e) => (
          <tr key={e.id}>
            <td>
              {short(e.day)} · {e.initials} · {e.text}
            </td>
            <td className="number">{hours(e.minutes)}</td>
            <td className="number">{e.rateBefore || "none"}</td>
            <td className="number">{e.rateAfter || "none"}</td>
            <td className="soft">{e.why}</td>
            <td className="number">
              <Money of={e.before} />
            </td>
            <td className="number">
              <Money of={e.after} />
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <th scope="row" colSpan={5}>
            In all; {found.same} entries stay as they are
          </th>
          <td className="number">
            <Money of={found.before} />
          </td>
          <td className="number">
            <Money of={found.after} />
          </td>
        </tr>
      </tfoot>
    </table>
  );
}
