import { Button } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { fixed, Money, Sums, useMoneyText } from "../../frame/figure";
import { FillMark, stateWords } from "../../frame/fill-mark";
import { History } from "../../frame/history";
import { SaidAnyDate, SaidDate } from "../../frame/sentence";
import tableCss from "../../frame/table.module.css";
import { Loss, Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { ApprovalActs, Said, useApproval } from "./approval";
import { layoutNames, lookNames, textNames } from "./choice-names";
import { ChoicesPane } from "./choices-pane";
import { Claims } from "./claims";
import { ComingBack } from "./coming-back";
import { CreditPane } from "./credit-pane";
import { Delivery } from "./delivery";
import { DraftList } from "./draft-list";
import { FeesPane } from "./fees-pane";
import { Files, Inside } from "./files";
import { Findings } from "./findings";
import { HandLine } from "./hand-line";
import { Dispute, Issued } from "./issued";
import { KeepTemplate } from "./keep-template";
import { onLines } from "./line-order";
import { LiveDocument } from "./live-document";
import { Lost } from "./lost";
import { PaymentPane } from "./payment-pane";
import { type Asking, Questions } from "./questions";
import reviewCss from "./review.module.css";
import { ReviewLines } from "./review-lines";
import { Terms } from "./terms";
import { nothingBegun, useBegin } from "./use-begin";
import { changes, type Invoice, nothingBack, useDraftActs, useDrafts, useInvoice } from "./use-billing";
import { mayReopen } from "./use-delivery";
import { useRuns } from "./use-run";
import { useUndoable } from "./use-undoable";

/** One draft: its entries beside the invoice as the client will see it. */
export function Review() {
  const id = Number(useParams().id);
  const invoice = useInvoice(id);
  if (invoice.error)
    return (
      <p className={clsx("refusal", deskCss.pageRefusal)}>
        {invoice.error.message} <Link to="/billing">Back to the drafts</Link>
      </p>
    );
  if (!invoice.data) return null;
  return <Opened key={invoice.data.id} invoice={invoice.data} />;
}

const panes = [
  { id: "lines", word: "Lines" },
  { id: "fees", word: "Fees and advances" },
  { id: "layout", word: "Layout and texts" },
  { id: "look", word: "Look" },
  { id: "price", word: "Price and tax" },
  { id: "payment", word: "Payment" },
  { id: "delivery", word: "Delivery" },
] as const;

const priceNames = ["discount", "discount_amount", "discount_on", "surcharge", "second_tax", "withholding"];

function Opened({ invoice }: { invoice: Invoice }) {
  const session = useSession();
  const administers = session.role === "administrator";
  const drafts = useDrafts(invoice.runId);
  const runs = useRuns(administers);
  const approval = useApproval(invoice);
  const acts = useDraftActs(invoice);
  const lines = useUndoable(acts);
  const navigate = useNavigate();
  const money = useMoneyText();
  const [asking, setAsking] = useState<Asking>(null);
  const [crediting, setCrediting] = useState(false);
  const [sending, setSending] = useState(false);
  const [search, setSearch] = useSearchParams();
  const isDraft = ["draft", "in_approval", "approved"].includes(invoice.state);
  const mayBill = administers && isDraft;
  const pane = isDraft ? (search.get("pane") ?? "lines") : "lines";
  const rows = drafts.data ?? [];
  const at = rows.findIndex((row) => row.id === invoice.id);
  const step = (by: number) => {
    const next = rows[at + by];
    if (next) navigate(`/billing/${next.id}`, onLines);
  };
  const approveAndGoOn = () => {
    if (!approval.mayApprove) return;
    lines.forget();
    approval.approve.mutate(undefined, { onSuccess: () => step(1) });
  };
  const toNextFinding = () => {
    const shown = document.querySelector<HTMLElement>("[data-finding] .link, [data-finding] a");
    if (shown && !shown.closest(`.${reviewCss.findings}`)?.contains(document.activeElement)) return shown.focus();
    const next = [...rows.slice(at + 1), ...rows.slice(0, Math.max(at, 0))].find((row) => row.found > 0);
    if (next) navigate(`/billing/${next.id}`, onLines);
  };
  const goToPart = (part: string, lineId: number) => {
    if (part === "dates") document.querySelector<HTMLElement>('[aria-label="Invoice date"]')?.focus();
    else if (part === "lines" && pane === "lines")
      document.querySelector<HTMLElement>(`[data-line="${lineId}"] .${reviewCss.textButton}`)?.click();
    else setSearch(part === "lines" ? {} : { pane: part }, { replace: true });
  };
  const hasNext = at >= 0 && at < rows.length - 1;
  const issue = (goesOn: boolean, send: boolean) => {
    setAsking(null);
    lines.forget();
    acts.issue.mutate(send, { onSuccess: () => goesOn && step(1) });
  };
  const reopen = () => {
    setAsking(null);
    acts.change.mutate(changes.reopen);
  };
  const redate = (to: Partial<Pick<Invoice, "from" | "upTo" | "dated">>) => {
    const { from, upTo, dated } = { ...invoice, ...to };
    acts.change.mutate(changes.date({ upTo, dated, ...(from && { from }) }));
  };
  const remove = () => acts.remove.mutate(undefined, { onSuccess: () => navigate("/billing") });
  const problem = [acts.issue, acts.remove, approval.ask, approval.approve, approval.sendBack].find(
    (act) => act.error,
  )?.error;
  const refused = problem?.message ?? (pane === "lines" || pane === "fees" ? acts.change.error?.message : undefined);
  const kind = isDraft ? "Draft" : invoice.kind === "credit_note" ? "Credit note" : "Invoice";
  return (
    <>
      <DraftList drafts={rows} current={invoice.id} run={runs.data?.find((run) => run.id === invoice.runId)} />
      <div className={reviewCss.review} data-parts="three">
        <p className={deskCss.folioOver}>
          {kind} for <Link to={`/clients/${invoice.clientId}`}>{invoice.client}</Link>
          {isDraft && invoice.responsible && ` · ${invoice.responsible} responsible`}
          {isDraft && invoice.introduced && ` · brought in by ${invoice.introduced}`}
          {isDraft && invoice.around.owed.minor !== 0 && ` · owes ${money(invoice.around.owed)} already`}
        </p>
        <Title>
          <FillMark state={invoice.state} /> {isDraft ? invoice.engagements || "Nothing on it yet" : invoice.number}
          <span className={tableCss.beside}>
            {" "}
            {isDraft
              ? invoice.beside
              : [invoice.engagements, invoice.beside || stateWords[invoice.state]].filter(Boolean).join(", ")}
          </span>
        </Title>
        <p className={reviewCss.reviewSteps}>
          <Do disabled={at <= 0} onClick={() => step(-1)}>
            previous draft
          </Do>
          <Do disabled={at < 0 || at >= rows.length - 1} onClick={() => step(1)}>
            next draft
          </Do>
        </p>
        <p className={reviewCss.reviewFacts}>
          Work from{" "}
          {mayBill ? (
            <SaidAnyDate
              label="Work from"
              any="the last bill"
              value={invoice.from}
              onChange={(from) => from !== invoice.from && redate({ from })}
            />
          ) : (
            <b>{long(invoice.from) || "the last bill"}</b>
          )}{" "}
          up to{" "}
          <DraftDate label="Work up to" value={invoice.upTo} fixed={!mayBill} onChange={(upTo) => redate({ upTo })} />,
          dated{" "}
          <DraftDate
            label="Invoice date"
            value={invoice.dated}
            fixed={!mayBill}
            onChange={(dated) => redate({ dated })}
          />
          , due <b>{long(invoice.firstDue)}</b> ({mayBill ? <Terms invoice={invoice} /> : invoice.terms || "taken over"}
          )
        </p>
        {!isDraft && <Claims invoice={invoice} onCredit={() => setCrediting(true)} />}
        {isDraft && <Findings invoice={invoice} acts={acts} mayEdit={mayBill} onGo={goToPart} />}
        {isDraft && <Said invoice={invoice} />}
        {refused && (
          <p className="refusal" role="alert">
            {refused}
          </p>
        )}
        {isDraft && (
          <nav className={clsx(deskCss.views, deskCss.panes)} aria-label="Parts of the draft">
            {panes.map(({ id, word }) => (
              <button
                key={id}
                type="button"
                className={`quiet ${pane === id ? "active" : ""}`}
                aria-current={pane === id ? "true" : undefined}
                onClick={() => setSearch(id === "lines" ? {} : { pane: id }, { replace: true })}
              >
                {word}
              </button>
            ))}
          </nav>
        )}
        {(pane === "delivery" || (!isDraft && invoice.kind !== "opening")) && (
          <Delivery invoice={invoice} sending={sending} onSending={setSending} />
        )}
        {pane === "lines" && (
          <>
            <ReviewLines
              invoice={invoice}
              mayEdit={mayBill}
              onTakeOut={lines.takeOut}
              onPutOn={lines.putOn}
              onText={lines.setText}
              onChange={(line, typed) => acts.change.mutateAsync(changes.changeLine(line.lineId, typed))}
              onOrder={(ids) => acts.change.mutate(changes.order(ids))}
              onDecide={lines.decide}
              onApprove={approveAndGoOn}
              onFinding={toNextFinding}
              onStep={step}
            />
            {mayBill && <AddToDraft invoice={invoice} acts={acts} />}
          </>
        )}
        {pane === "fees" && <FeesPane invoice={invoice} acts={acts} mayEdit={mayBill} />}
        {pane === "layout" && (
          <ChoicesPane invoice={invoice} acts={acts} mayEdit={mayBill} names={[...layoutNames, ...textNames]} />
        )}
        {pane === "look" && (
          <>
            <ChoicesPane invoice={invoice} acts={acts} mayEdit={mayBill} names={lookNames} />
            <Inside invoice={invoice} />
          </>
        )}
        {pane === "price" && <ChoicesPane invoice={invoice} acts={acts} mayEdit={mayBill} names={priceNames} />}
        {pane === "payment" && <PaymentPane invoice={invoice} acts={acts} mayEdit={mayBill} />}
        {!isDraft && <Issued invoice={invoice} mayAct={administers} />}
        {!isDraft && administers && invoice.kind === "invoice" && (
          <p>
            <AnotherLike invoice={invoice} /> <KeepTemplate invoice={invoice} /> <ComingBack invoice={invoice} />
          </p>
        )}
        {!isDraft && administers && invoice.kind !== "credit_note" && <Dispute invoice={invoice} />}
        {!isDraft && administers && invoice.kind !== "credit_note" && <Lost invoice={invoice} />}
        {crediting && <CreditPane invoice={invoice} onDone={() => setCrediting(false)} />}
        <History subject="invoices" id={invoice.id} />
      </div>
      <LiveDocument invoice={invoice} />
      <Tally
        notice={
          lines.said &&
          isDraft && (
            <span>
              {lines.said} {lines.undo && <Do onClick={lines.undo}>Undo</Do>}
            </span>
          )
        }
        actions={
          <>
            <Button onClick={() => navigate(isDraft ? "/billing" : "/billing?show=register")}>Back</Button>
            {mayBill && !invoice.number && (
              <Button onClick={() => setAsking("delete")} title="Delete the draft: everything on it is unbilled again">
                Return everything
              </Button>
            )}
            {isDraft && <ApprovalActs approval={approval} onApprove={approveAndGoOn} hasNext={hasNext} />}
            {mayBill && (
              <Button
                type={invoice.state === "approved" || !approval.mayApprove ? "primary" : "default"}
                loading={acts.issue.isPending}
                disabled={invoice.lines.length === 0 || invoice.blocking > 0 || invoice.state === "in_approval"}
                onClick={() => setAsking("issue")}
              >
                Issue over {money(invoice.total)}
              </Button>
            )}
            {!isDraft && administers && (
              <AfterIssue invoice={invoice} onCredit={() => setCrediting(true)} onReopen={() => setAsking("reopen")} />
            )}
            {invoice.hasFile && <Files invoice={invoice} />}
            {administers && !isDraft && ["", "failed"].includes(invoice.handed) && invoice.kind !== "opening" && (
              <Button type="primary" disabled={sending} onClick={() => setSending(true)}>
                Hand it over
              </Button>
            )}
          </>
        }
      >
        <TallySum figure={<Money of={invoice.standard} />} what="standard value" />
        <Loss of={[invoice.given.noCharge]} what="no charge" />
        <Loss of={[invoice.given.writtenDown]} what="written down" />
        <Loss of={[invoice.given.writtenUp]} what="written up" />
        <Loss of={[invoice.given.rates]} what="agreed rates" />
        <Loss of={[invoice.given.variance]} what="variance of fees" />
        <Loss of={[invoice.given.discount]} what="discount" />
        {invoice.given.other.minor !== 0 && <TallySum figure={<Money of={invoice.given.other} />} what="by hand" />}
        <TallySum figure={<Money of={{ ...invoice.net, explanation: invoice.fromStandard }} />} what="net" />
        <TallySum figure={<Money of={{ ...invoice.total, explanation: invoice.explanation }} />} what="total, gross" />
        {!isDraft && invoice.open.minor !== 0 && (
          <TallySum
            figure={
              <Sums
                label="Open"
                parts={invoice.instalments.map((part) => ({ of: part.words || long(part.due), amount: part.open }))}
              />
            }
            what="open"
          />
        )}
        <TallySum
          figure={invoice.standard.minor ? `${fixed(Math.round(invoice.realisation / 1000), 1)} %` : "–"}
          what="realisation"
        />
      </Tally>
      <Questions
        asking={asking}
        invoice={invoice}
        onNo={() => setAsking(null)}
        onIssue={(send) => issue(false, send)}
        onIssueNext={hasNext ? (send) => issue(true, send) : undefined}
        onDelete={remove}
        onReopen={reopen}
      />
    </>
  );
}

interface DateProps {
  label: string;
  value: string;
  fixed: boolean;
  onChange: (iso: string) => void;
}

/** A day of the draft: a control while it can be changed. */
function DraftDate({ label, value, fixed: isFixed, onChange }: DateProps) {
  if (isFixed) return <b>{long(value)}</b>;
  return <SaidDate label={label} value={value} onChange={(iso) => iso !== value && onChange(iso)} />;
}

/** What can be added: a line by hand, or what is unbilled of the client. */
function AddToDraft({ invoice, acts }: { invoice: Invoice; acts: ReturnType<typeof useDraftActs> }) {
  const [adding, setAdding] = useState(invoice.lines.length === 0);
  const takeUp = (take: "all" | "time" | "expenses" | "fees") => acts.change.mutate(changes.takeUp(take, 0));
  return (
    <div className={reviewCss.addToDraft}>
      {adding ? (
        <HandLine
          invoice={invoice}
          onSave={(typed) => acts.change.mutateAsync(changes.addLine(typed))}
          onSaveAll={(lines) => acts.change.mutateAsync(changes.putOn({ ...nothingBack, lines }))}
          onDone={() => setAdding(false)}
        />
      ) : (
        <span>
          <Do onClick={() => setAdding(true)}>Add a line</Do> <KeepTemplate invoice={invoice} />{" "}
          <ComingBack invoice={invoice} />
        </span>
      )}
      <span className="soft">
        Put on what is unbilled: <Do onClick={() => takeUp("all")}>everything</Do>,{" "}
        <Do onClick={() => takeUp("time")}>time</Do>, <Do onClick={() => takeUp("expenses")}>expenses</Do>,{" "}
        <Do onClick={() => takeUp("fees")}>fees that are due</Do>
      </span>
    </div>
  );
}

function AnotherLike({ invoice }: { invoice: Invoice }) {
  const navigate = useNavigate();
  const again = useBegin();
  const begin = () =>
    again.mutate({ ...nothingBegun, likeId: invoice.id }, { onSuccess: (made) => navigate(`/billing/${made.id}`) });
  return <Do onClick={begin}>Another like it</Do>;
}

interface AfterProps {
  invoice: Invoice;
  onCredit: () => void;
  onReopen: () => void;
}

/** What can be done with an issued invoice. */
function AfterIssue({ invoice, onCredit, onReopen }: AfterProps) {
  const navigate = useNavigate();
  const isNote = invoice.kind === "credit_note";
  const ordinary = invoice.kind === "invoice";
  return (
    <>
      {ordinary && invoice.state === "issued" && mayReopen(invoice) && <Button onClick={onReopen}>Reopen</Button>}
      {ordinary && invoice.beside !== "credited in full" && <Button onClick={onCredit}>Credit</Button>}
      {!isNote && invoice.open.minor !== 0 && (
        <Button onClick={() => navigate(`/receivables?client=${invoice.clientId}&pay=${invoice.id}`)}>
          Record a payment
        </Button>
      )}
    </>
  );
}
