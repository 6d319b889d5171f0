import { Button } from "antd";
import { lazy, Suspense, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { Dialog } from "../../frame/dialog";
import { Do } from "../../frame/do";
import { Moneys, Sums, summed } from "../../frame/figure";
import { JobProgress } from "../../frame/job";
import { Table } from "../../frame/list/table";
import { Menu } from "../../frame/menu";
import type { Reads } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import type { Form } from "./files";
import { PostedOn } from "./posted-on";
import reviewCss from "./review.module.css";
import { mostTogether, type Summary, useRegister } from "./use-billing";
import { mayReopen, useManyDeliveries } from "./use-delivery";
import { useMany } from "./use-run";

const IssueMany = lazy(async () => ({ default: (await import("./issue-many")).IssueMany }));
const SendMany = lazy(async () => ({ default: (await import("./send-many")).SendMany }));

interface Props {
  /** What the list shows: how many, and those of them that are read. */
  here: { rows: Summary[]; count: number; late: number; all: () => Promise<Summary[]> };
  chosen: Summary[];
  row?: Summary;
  show: "drafts" | "register";
  name: string;
  onDone: () => void;
  onOpen: (id: number) => void;
  read: Reads;
}

const openForms: { key: Form; label: string }[] = [
  { key: "cii", label: "E-invoices (EN 16931, CII)" },
  { key: "ledes", label: "Billing file (LEDES 1998B)" },
  { key: "xlsx", label: "Invoices and lines as XLSX" },
  { key: "csv", label: "Lines as CSV" },
  { key: "json", label: "JSON" },
];

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;

/** What is chosen adds up to, and what is done with many: approved, issued, reopened, made into documents. */
export function ManyTally({ here, chosen, row, show, name, onDone, onOpen, read }: Props) {
  const { role } = useSession();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const many = useMany();
  const [asking, setAsking] = useState<"issue" | "reopen" | null>(null);
  const [issued, setIssued] = useState<Summary[]>([]);
  const on = chosen.length > 0 ? chosen : here.rows;
  const size = chosen.length || here.count;
  const all = () => (chosen.length > 0 ? Promise.resolve(chosen) : here.all());
  const bills = role === "administrator";
  const isDrafts = show === "drafts";
  const waiting = chosen.filter((r) => r.state === "in_approval" || r.state === "draft");
  const ready = on.filter((r) => r.blocking === 0 && r.state !== "in_approval");
  const reopens = chosen.filter((r) => r.state === "issued" && r.kind === "invoice" && mayReopen(r));
  const onPaper = chosen.filter((r) => r.handed === "queued");
  const toSend = chosen.filter((r) => ["", "failed"].includes(r.handed) && r.kind !== "opening");
  const deliveries = useManyDeliveries();
  const [sending, setSending] = useState<Summary[]>([]);
  const { job } = many.job;
  // While the letters are asked about, their dialog says it.
  const problem = many.problem ?? (sending.length > 0 ? null : (deliveries.send.error ?? deliveries.posted.error));
  const issue = (send: boolean) => {
    setAsking(null);
    setIssued(ready);
    many.issue.mutate({ rows: ready, send }, { onSuccess: onDone });
  };
  const reopen = () => {
    setAsking(null);
    many.reopen.mutate(reopens, { onSuccess: onDone });
  };
  const parts = (name: "net" | "total") =>
    on.map((r) => ({ of: r.number ? `${r.number}, ${r.client}` : r.client, amount: r[name] }));
  const [leaving, setLeaving] = useState<{ form: Form; check: Schema["FormCheck"] } | null>(null);
  const make = (form: Form) => {
    setLeaving(null);
    many.documents.mutate({ rows: all, form, name });
  };
  /** What an open format can't say is listed before anything is made. */
  const makeFile = (form: Form) =>
    form === "zip" || form === "pdf" || form === "post"
      ? make(form)
      : many.check.mutate(
          { rows: all, form },
          { onSuccess: (check) => (check.leftOut.length > 0 ? setLeaving({ form, check }) : make(form)) },
        );
  return (
    <>
      <Tally
        of={read}
        notice={
          job ? (
            <JobProgress
              job={job}
              what={{ issue: "Issuing", reopen: "Reopening" }[job.kind] ?? "Drawing"}
              onForget={many.job.forget}
            >
              {job.kind === "issue" && <AfterIssuing rows={issued} onReopen={many.reopen.mutate} onSend={setSending} />}
            </JobProgress>
          ) : (
            (deliveries.job.job && (
              <JobProgress job={deliveries.job.job} what="Handing over" onForget={deliveries.job.forget} />
            )) ||
            (problem && <span className="refusal">{problem.message}</span>)
          )
        }
        actions={
          <>
            {bills && chosen.length === 0 && <Button onClick={() => navigate("/billing/new")}>Begin an invoice</Button>}
            {here.count > 0 && (
              <Menu
                items={[
                  { key: "zip", label: `ZIP of ${counted(size, "PDF")}` },
                  { key: "pdf", label: `One PDF of ${size}, to print` },
                  { key: "post", label: "One PDF to post, with sheets of address" },
                  ...(isDrafts ? [] : openForms),
                ]}
                onPick={(key) => makeFile(key as Form)}
              >
                <Button
                  disabled={size > mostTogether}
                  title={size > mostTogether ? `Choose at most ${mostTogether}, such as those of a month.` : undefined}
                >
                  Documents
                </Button>
              </Menu>
            )}
            {isDrafts && bills && waiting.length > 0 && (
              <Button
                loading={many.ask.isPending}
                onClick={() =>
                  many.ask.mutate(
                    waiting.filter((r) => r.state === "draft"),
                    { onSuccess: onDone },
                  )
                }
              >
                Ask for approval
              </Button>
            )}
            {isDrafts && role !== "owner" && waiting.length > 0 && (
              <Button
                loading={many.approve.isPending}
                onClick={() => many.approve.mutate(waiting, { onSuccess: onDone })}
              >
                Approve {waiting.length}
              </Button>
            )}
            {!isDrafts && bills && reopens.length > 0 && (
              <Button onClick={() => setAsking("reopen")}>Reopen {reopens.length}</Button>
            )}
            {!isDrafts && bills && search.get("handed") === "on_paper" && onPaper.length > 0 && (
              <PostedOn
                what={String(onPaper.length)}
                foremost={{ loading: deliveries.posted.isPending }}
                onPosted={(day) =>
                  deliveries.posted.mutate({ ids: onPaper.map((r) => r.id), day }, { onSuccess: onDone })
                }
              />
            )}
            {!isDrafts && bills && toSend.length > 0 && (
              <Button type="primary" loading={deliveries.send.isPending} onClick={() => setSending(toSend)}>
                Hand over {toSend.length}
              </Button>
            )}
            {row && chosen.length === 0 && (
              <Button type={isDrafts && bills ? "default" : "primary"} onClick={() => onOpen(row.id)}>
                {isDrafts ? "Review this draft" : `Open ${row.number}`}
              </Button>
            )}
            {isDrafts && bills && here.count > 0 && (
              <Button
                type="primary"
                disabled={ready.length === 0}
                loading={many.issue.isPending || job?.state === "running"}
                onClick={() => setAsking("issue")}
              >
                Issue {ready.length}
              </Button>
            )}
          </>
        }
      >
        <TallySum figure={counted(size, isDrafts ? "draft" : "invoice")} what={chosen.length > 0 ? "chosen" : "here"} />
        {isDrafts && <TallySum figure={on.filter((r) => r.state === "approved").length} what="approved" />}
        {isDrafts && (
          <TallySum
            lost={on.some((r) => r.blocking > 0)}
            figure={on.reduce((n, r) => n + r.found, 0)}
            what={`to settle, ${on.reduce((n, r) => n + r.blocking, 0)} block`}
          />
        )}
        {!isDrafts && (
          <TallySum
            lost
            figure={chosen.length > 0 ? chosen.filter((r) => r.daysLate > 0).length : here.late}
            what="late"
          />
        )}
        {(isDrafts || chosen.length > 0) && <TallySum figure={<Sums label="Net" parts={parts("net")} />} what="net" />}
        {(isDrafts || chosen.length > 0) && (
          <TallySum figure={<Sums label="Total, gross" parts={parts("total")} />} what="total, gross" />
        )}
      </Tally>
      {sending.length > 0 && (
        <Suspense>
          <SendMany
            rows={sending}
            deliveries={deliveries}
            onNo={() => setSending([])}
            onDone={() => {
              setSending([]);
              many.job.forget();
              onDone();
            }}
          />
        </Suspense>
      )}
      <LeftOut leaving={leaving} onNo={() => setLeaving(null)} onMake={make} />
      {asking === "issue" && (
        <Suspense>
          <IssueMany rows={ready} among={on.length} onNo={() => setAsking(null)} onIssue={issue} />
        </Suspense>
      )}
      {asking === "reopen" && (
        <Dialog
          title={`Reopen ${counted(reopens.length, "invoice")}?`}
          ok={`Reopen ${reopens.length}`}
          no="Leave them"
          onNo={() => setAsking(null)}
          onOk={reopen}
        >
          <Moneys of={summed(reopens.map((r) => r.total))} /> gross is not owed until they are issued again. They keep
          their numbers, and what was issued stays in their history.
        </Dialog>
      )}
    </>
  );
}

interface AfterProps {
  rows: Summary[];
  onReopen: (rows: Summary[]) => void;
  onSend: (rows: Summary[]) => void;
}

/** What was just issued: where it stands, and all of it handed over or reopened in one act. */
function AfterIssuing({ rows, onReopen, onSend }: AfterProps) {
  const runs = [...new Set(rows.map((row) => row.runId))];
  const of = runs.length === 1 && runs[0] ? `&run=${runs[0]}` : "";
  const days = rows.map((row) => row.dated).sort();
  const register = useRegister({ run: of ? runs[0] : 0, from: days[0], to: days.at(-1) }, true, mostTogether);
  const again = (register.data?.invoices ?? []).filter(
    (r) => r.state === "issued" && rows.some((row) => row.id === r.id),
  );
  return (
    <>
      <Link to={`/billing?show=register${of}`}>In the register</Link>
      {again.length > 0 && again.every((r) => r.handed === "") && (
        <Do onClick={() => onSend(again)}>Hand all {again.length} over</Do>
      )}
      {again.length > 0 && <Do onClick={() => onReopen(again)}>Reopen all {again.length}</Do>}
    </>
  );
}

interface LeftOutProps {
  leaving: { form: Form; check: Schema["FormCheck"] } | null;
  onNo: () => void;
  onMake: (form: Form) => void;
}

/** Which invoices a format can't say, each with why, before the file is made of the others. */
function LeftOut({ leaving, onNo, onMake }: LeftOutProps) {
  if (!leaving) return null;
  const { form, check } = leaving;
  return (
    <Dialog
      width={640}
      title={`${counted(check.leftOut.length, "invoice")} can't be said in this format`}
      ok={check.good > 0 ? `Make the file of the other ${check.good}` : "Make the file"}
      disabled={check.good === 0}
      no="Not now"
      onNo={onNo}
      onOk={() => onMake(form)}
    >
      <Table
        headless
        className={reviewCss.tallyLeftOut}
        rows={check.leftOut}
        id={(left) => left.id}
        columns={[
          {
            name: "Invoice",
            names: "light",
            cell: (left) => <Link to={`/billing/${left.id}`}>{left.number}</Link>,
          },
          { name: "Client", cell: (left) => left.client },
          { name: "Why", cell: (left) => left.why },
        ]}
      />
    </Dialog>
  );
}
