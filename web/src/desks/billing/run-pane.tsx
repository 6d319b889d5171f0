import { useState } from "react";
import { Link } from "react-router";
import { Dialog } from "../../frame/dialog";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import { History } from "../../frame/history";
import { SaidDate, SaidText, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import reviewCss from "./review.module.css";
import { type Run, useMany } from "./use-run";

/** What a run is for, and how far it has come; its drafts follow what is changed here. */
export function RunPane({ run, mayAct }: { run: Run; mayAct: boolean }) {
  const { changeRun, deleteRun, problem } = useMany();
  const [asking, setAsking] = useState(false);
  const [shows, setShows] = useState(false);
  const open = run.drafts + run.asked + run.approved;
  const change = (part: Partial<Run>) => {
    const { name, upTo, dated, terms, text } = { ...run, ...part };
    changeRun.mutate({ run, typed: { name, upTo, dated, terms, text } });
  };
  return (
    <section className={reviewCss.runPane} aria-label="Billing run">
      {mayAct && open > 0 && (
        <Sentence>
          Work up to <SaidDate label="Work up to" value={run.upTo} onChange={(upTo) => change({ upTo })} />, dated{" "}
          <SaidDate label="Dated" value={run.dated} onChange={(dated) => change({ dated })} />, on{" "}
          <SaidText label="Terms" any="each client's terms" value={run.terms} onChange={(terms) => change({ terms })} />
          , called <SaidText label="Name of the run" value={run.name} onChange={(name) => change({ name })} />, opening
          with{" "}
          <SaidText
            label="Opening text"
            any="each client's text"
            value={run.text}
            onChange={(text) => change({ text })}
          />
        </Sentence>
      )}
      <p className="soft">
        {open} to issue, {run.asked} in approval, {run.approved} approved, {run.issued} issued · {run.engagements}{" "}
        {run.engagements === 1 ? "engagement" : "engagements"} · <Money of={run.net} /> net · made by {run.person}{" "}
        {run.kept && "· it has drafts of another issuing entity, too: who is not limited changes it "}
        {mayAct && (
          <>
            · <Link to={`/wip?run=${run.id}&upTo=${run.upTo}&dated=${run.dated}`}>Add clients</Link> ·{" "}
            <Do onClick={() => setShows(!shows)}>History</Do> ·{" "}
            <Do disabled={open === 0} onClick={() => setAsking(true)}>
              Delete the run
            </Do>
          </>
        )}
      </p>
      <Refused by={problem} />
      {shows && <History subject="runs" id={run.id} />}
      {asking && (
        <Dialog
          danger
          title={`Delete “${run.name}”?`}
          ok={`Delete ${open} ${open === 1 ? "draft" : "drafts"}`}
          no="Keep it"
          pending={deleteRun.isPending}
          onNo={() => setAsking(false)}
          onOk={() => deleteRun.mutate(run, { onSuccess: () => setAsking(false) })}
        >
          Everything on its {open} {open === 1 ? "draft" : "drafts"} is unbilled again. Texts that were changed on them
          are lost; what was decided on entries stays decided, and can be taken back under Work in progress. What was
          issued stays.
        </Dialog>
      )}
    </section>
  );
}
