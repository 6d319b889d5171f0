import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Explained } from "../../frame/explain";
import { fixed, Money, useMoneyText } from "../../frame/figure";
import { FillMark, stateWords } from "../../frame/fill-mark";
import { History } from "../../frame/history";
import { Loss, Tally, TallySum } from "../../frame/tally";
import { DraftList } from "./draft-list";
import { LiveDocument } from "./live-document";
import { type Asking, Questions } from "./questions";
import { ReviewLines } from "./review-lines";
import { Terms } from "./terms";
import { type Invoice, useDraftActs, useDrafts, useInvoice } from "./use-billing";
import { useUndoable } from "./use-undoable";

/** One draft: its entries beside the invoice as the client will see it. */
export function Review() {
  const id = Number(useParams().id);
  const invoice = useInvoice(id);
  if (invoice.error)
    return (
      <p className="refusal page-refusal">
        {invoice.error.message} <Link to="/billing">Back to the drafts</Link>
      </p>
    );
  if (!invoice.data) return null;
  return <Opened key={invoice.data.id} invoice={invoice.data} />;
}

function Opened({ invoice }: { invoice: Invoice }) {
  const drafts = useDrafts();
  const acts = useDraftActs(invoice);
  const lines = useUndoable(acts);
  const navigate = useNavigate();
  const money = useMoneyText();
  const session = useSession();
  const [asking, setAsking] = useState<Asking>(null);
  const isDraft = ["draft", "in_approval", "approved"].includes(invoice.state);
  const mayBill = session.role === "administrator" && isDraft;
  const rows = drafts.data ?? [];
  const at = rows.findIndex((row) => row.id === invoice.id);
  const step = (by: number) => {
    const next = rows[at + by];
    if (next) navigate(`/billing/${next.id}`);
  };
  const issue = () => {
    setAsking(null);
    lines.forget();
    acts.issue.mutate();
  };
  const remove = () => acts.remove.mutate(undefined, { onSuccess: () => navigate("/billing") });
  const problem = [acts.takeOut, acts.putOn, acts.setText, acts.issue, acts.remove].find((act) => act.error)?.error;
  return (
    <>
      <DraftList drafts={rows} current={invoice.id} />
      <div className="review">
        <p className="folio-over">
          {isDraft ? "Draft" : "Invoice"} for {invoice.client}
        </p>
        <h1>
          <FillMark state={invoice.state} /> {isDraft ? invoice.engagements : invoice.number}
          <span className="beside"> {isDraft ? "" : `${invoice.engagements}, ${stateWords[invoice.state]}`}</span>
        </h1>
        <p className="review-steps">
          <button type="button" className="link" disabled={at <= 0} onClick={() => step(-1)}>
            previous draft
          </button>
          <button type="button" className="link" disabled={at < 0 || at >= rows.length - 1} onClick={() => step(1)}>
            next draft
          </button>
        </p>
        <p className="review-facts">
          Work up to <b>{long(invoice.upTo)}</b>, dated <b>{long(invoice.dated)}</b>, due <b>{long(invoice.due)}</b> (
          {mayBill ? (
            <Terms
              shown={invoice.document.terms}
              refused={acts.setTerms.error?.message}
              onChange={(change) => acts.setTerms.mutateAsync(change)}
            />
          ) : (
            invoice.document.terms
          )}
          )
        </p>
        {problem && (
          <p className="refusal" role="alert">
            {problem.message}
          </p>
        )}
        <ReviewLines
          invoice={invoice}
          mayEdit={mayBill}
          onToggle={(line) => mayBill && (line.lineId ? lines.takeOut(line) : lines.putOn(line))}
          onText={lines.setText}
          onStep={step}
        />
        <History subject="invoices" id={invoice.id} />
      </div>
      <LiveDocument document={invoice.document} explanation={invoice.explanation} />
      <Tally
        notice={
          lines.said &&
          isDraft && (
            <span>
              {lines.said}{" "}
              <button type="button" className="link" onClick={lines.undo}>
                Undo
              </button>
            </span>
          )
        }
        actions={
          <>
            <Button onClick={() => navigate(isDraft ? "/billing" : "/billing?show=register")}>Back</Button>
            {mayBill && <Button onClick={() => setAsking("delete")}>Delete the draft</Button>}
            {mayBill && (
              <Button
                type="primary"
                loading={acts.issue.isPending}
                disabled={invoice.lines.length === 0}
                onClick={() => setAsking("issue")}
              >
                Issue over {money(invoice.total)}
              </Button>
            )}
            {invoice.hasFile && (
              <Button type="primary" href={`/api/invoices/${invoice.id}/document.pdf`}>
                Download the PDF
              </Button>
            )}
          </>
        }
      >
        <TallySum figure={<Money of={invoice.standard} />} what="standard value" />
        <Loss of={[invoice.given.noCharge]} what="no charge" />
        <Loss of={[invoice.given.rates]} what="agreed rates" />
        <TallySum figure={<Money of={invoice.net} />} what="net" />
        <TallySum
          figure={
            <Explained step={invoice.explanation} label="Total">
              {money(invoice.total)}
            </Explained>
          }
          what="total, gross"
        />
        <TallySum
          figure={invoice.standard.minor ? `${fixed(Math.round(invoice.realisation / 1000), 1)} %` : "–"}
          what="realisation"
        />
      </Tally>
      <Questions asking={asking} invoice={invoice} onNo={() => setAsking(null)} onIssue={issue} onDelete={remove} />
    </>
  );
}
