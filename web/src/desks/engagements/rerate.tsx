import { Button } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useAsked } from "../../api/read";
import { useSession } from "../../api/session";
import { short } from "../../frame/days";
import { Do } from "../../frame/do";
import { hours, Money } from "../../frame/figure";
import { DayInput } from "../../frame/form/day-input";
import formCss from "../../frame/form/form.module.css";
import { money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import sentenceCss from "../../frame/sentence.module.css";
import { Refused } from "../../frame/state";

/** Values unbilled entries at the rates that hold now: before and after, entry by entry and in all, taken back as one. */
export function Rerate({ engagement, onDone }: { engagement: Schema["EngagementOverview"]; onDone: () => void }) {
  const { today } = useSession();
  const [from, setFrom] = useState(`${today.slice(0, 4)}-01-01`);
  const [to, setTo] = useState(today);
  const body: Schema["Rerating"] = { engagementId: engagement.id, from, to };
  const preview = useAsked("/api/rerating/preview", { body }, { keeps: true });
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
        From <DayInput look="said" label="From" value={from} onChange={setFrom} /> to{" "}
        <DayInput look="said" label="To" value={to} onChange={setTo} />, at the rates that hold now. What is on a draft
        or billed stays.
      </p>
      <Refused by={problem} />
      {found && found.entries.length === 0 && !rerate.data && (
        <p className="soft">All {found.same} unbilled entries have the rate that holds.</p>
      )}
      {found && found.entries.length > 0 && <Difference found={found} />}
      <p className={formCss.acts}>
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

type Rerated = Schema["Rerated"]["entries"][number];

const columns: Column<Rerated>[] = [
  text("Entry", (e) => `${short(e.day)} · ${e.initials} · ${e.text}`, { names: "light", sum: () => "In all" }),
  text("Hours", (e) => hours(e.minutes), { number: true }),
  text("Rate before", (e) => e.rateBefore || "none", { number: true }),
  text("Rate now", (e) => e.rateAfter || "none", { number: true }),
  text("Whose", (e) => e.why, { tone: () => "soft" }),
];

function Difference({ found }: { found: Schema["Rerated"] }) {
  return (
    <>
      <Table
        sums
        rows={found.entries}
        id={(e) => e.id}
        columns={[
          ...columns,
          money<Rerated>("Before", (e) => e.before, { sum: () => <Money of={found.before} /> }),
          money<Rerated>("After", (e) => e.after, { sum: () => <Money of={found.after} /> }),
        ]}
      />
      <p className="soft">{found.same} entries stay as they are.</p>
    </>
  );
}
