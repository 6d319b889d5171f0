import { useState } from "react";
import { Link } from "react-router";
import { useRead } from "../../api/read";
import { Dialog } from "../../frame/dialog";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import { stateWords } from "../../frame/fill-mark";
import { History } from "../../frame/history";
import { acting, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import { SaidDate, SaidText, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import reviewCss from "./review.module.css";
import type { Summary } from "./use-billing";
import { type Run, useMany } from "./use-run";

/** What a run is for, and how far it has come; its drafts follow what is changed here. */
export function RunPane({ run, mayAct }: { run: Run; mayAct: boolean }) {
  const { changeRun, deleteRun, problem } = useMany();
  const [asking, setAsking] = useState(false);
  const [shows, setShows] = useState<"history" | "members">();
  const turn = (to: "history" | "members") => setShows(shows === to ? undefined : to);
  const open = run.drafts + run.asked + run.approved;
  const goes = open - run.numbered;
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
        {open} to issue, {run.asked} in approval, {run.approved} approved,{" "}
        {run.issued > 0 ? <Link to={`/billing?show=register&run=${run.id}`}>{run.issued} issued</Link> : "0 issued"} ·{" "}
        <Do onClick={() => turn("members")}>
          {run.engagements} {run.engagements === 1 ? "engagement" : "engagements"}
        </Do>{" "}
        · <Money of={run.net} /> net · made by {run.person}{" "}
        {run.kept && "· it has drafts of another issuing entity, too: who is not limited changes it "}
        {mayAct && (
          <>
            · <Link to={`/wip?run=${run.id}&upTo=${run.upTo}&dated=${run.dated}`}>Add clients</Link> ·{" "}
            <Do onClick={() => turn("history")}>History</Do> ·{" "}
            <Do disabled={goes === 0} onClick={() => setAsking(true)}>
              {run.issued > 0 ? "Delete its drafts" : "Delete the run"}
            </Do>
          </>
        )}
      </p>
      <Refused by={problem} />
      {shows === "history" && <History subject="runs" id={run.id} />}
      {shows === "members" && <Members run={run} mayAct={mayAct} />}
      {asking && (
        <Dialog
          danger
          title={run.issued > 0 ? `Delete what is left of “${run.name}”?` : `Delete “${run.name}”?`}
          ok={`Delete ${goes} ${goes === 1 ? "draft" : "drafts"}`}
          no="Keep it"
          pending={deleteRun.isPending}
          onNo={() => setAsking(false)}
          onOk={() => deleteRun.mutate(run, { onSuccess: () => setAsking(false) })}
        >
          Everything on its {goes} {goes === 1 ? "draft" : "drafts"} is unbilled again.{" "}
          {run.numbered > 0 &&
            `${run.numbered} of it ${run.numbered === 1 ? "was" : "were"} issued before and keep their numbers: they stay. `}
          Texts that were changed on them are lost; what was decided on entries stays decided, and can be taken back
          under Work in progress. What was issued stays.
        </Dialog>
      )}
    </section>
  );
}

type Member = Run["members"][number];

/** The engagements of a run, each with the draft that it is on; what is not issued can be taken out. */
function Members({ run, mayAct }: { run: Run; mayAct: boolean }) {
  const whole = useRead("/api/runs/{id}", { path: { id: run.id } });
  const { takeOutMember } = useMany();
  const takeOut = ({ engagementId }: Member) => takeOutMember.mutate({ run, engagement: engagementId });
  return (
    <>
      <Refused by={takeOutMember.error} />
      <Table
        label="Engagements of the run"
        look="plain"
        rows={whole.data?.members ?? []}
        id={(m) => `${m.engagementId} ${m.invoiceId}`}
        columns={[
          text<Member>("Client", (m) => m.client, { names: "light" }),
          text<Member>("Engagement", (m) => m.engagement, {
            cell: (m) => <Link to={`/engagements/${m.engagementId}`}>{m.engagement}</Link>,
          }),
          text<Member>("Bill", (m) => m.number, {
            cell: (m) =>
              m.invoiceId ? (
                <Link to={`/billing/${m.invoiceId}`}>{m.number || stateWords[m.state as Summary["state"]]}</Link>
              ) : (
                <span className="soft">none</span>
              ),
          }),
          acting<Member>(
            (m) =>
              mayAct &&
              !["issued", "part_paid", "paid"].includes(m.state) && (
                <Do aria-label={`Take out ${m.engagement}`} onClick={() => takeOut(m)}>
                  Take out
                </Do>
              ),
          ),
        ]}
      />
    </>
  );
}
