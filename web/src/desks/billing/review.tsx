import { Button, Modal } from "antd";
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
import { ReviewLines } from "./review-lines";
import { type Invoice, type Line, useDraftActs, useDrafts, useInvoice } from "./use-billing";

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

/** What was just done, and which act takes it back. */
interface Done {
  said: string;
  undo: { putOn?: Line; takeOut?: Line; setText?: Line };
}

function Opened({ invoice }: { invoice: Invoice }) {
  const drafts = useDrafts();
  const acts = useDraftActs(invoice);
  const navigate = useNavigate();
  const money = useMoneyText();
  const session = useSession();
  const [asking, setAsking] = useState<"issue" | "delete" | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const isDraft = invoice.number === "" || ["draft", "in_approval", "approved"].includes(invoice.state);
  const mayBill = session.role === "administrator" && isDraft;
  const rows = drafts.data ?? [];
  const at = rows.findIndex((row) => row.id === invoice.id);
  const step = (by: number) => {
    const next = rows[at + by];
    if (next) navigate(`/billing/${next.id}`);
  };
  const issue = () => {
    setAsking(null);
    setDone(null);
    acts.issue.mutate();
  };
  const takeOut = (line: Line) =>
    acts.takeOut.mutate(line.portionId, {
      onSuccess: () => setDone({ said: `Took out “${line.text}”; it is unbilled again.`, undo: { putOn: line } }),
    });
  const putOn = (line: Line) =>
    acts.putOn.mutate(line.portionId, {
      onSuccess: (changed) => {
        const back = changed.lines.find((l) => l.portionId === line.portionId);
        setDone(back ? { said: `Put on “${back.text}”.`, undo: { takeOut: back } } : null);
      },
    });
  const setText = async (line: Line, text: string) => {
    await acts.setText.mutateAsync({ line: line.lineId, text });
    setDone({ said: `Changed “${line.text}”.`, undo: { setText: line } });
  };
  const toggle = (line: Line) => {
    if (!mayBill) return;
    if (line.lineId) takeOut(line);
    else putOn(line);
  };
  const undo = ({ undo: way }: Done) => {
    if (way.putOn) putOn(way.putOn);
    else if (way.takeOut) takeOut(way.takeOut);
    else if (way.setText) setText(way.setText, way.setText.text);
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
          {invoice.document.terms})
        </p>
        {problem && (
          <p className="refusal" role="alert">
            {problem.message}
          </p>
        )}
        <ReviewLines invoice={invoice} mayEdit={mayBill} onToggle={toggle} onText={setText} onStep={step} />
        <History subject="invoices" id={invoice.id} />
      </div>
      <LiveDocument document={invoice.document} explanation={invoice.explanation} />
      <Tally
        notice={
          done &&
          isDraft && (
            <span>
              {done.said}{" "}
              <button type="button" className="link" onClick={() => undo(done)}>
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
      <Modal
        open={asking === "issue"}
        title={`Issue ${invoice.nextNumber}?`}
        okText={`Issue ${invoice.nextNumber} over ${money(invoice.total)}`}
        cancelText="Not yet"
        onCancel={() => setAsking(null)}
        onOk={issue}
      >
        {invoice.client} will owe {money(invoice.total)}, due {long(invoice.due)}. The invoice gets its number and is
        frozen; its {invoice.lines.length === 1 ? "entry counts" : `${invoice.lines.length} entries count`} as billed.
        This can't be undone.
      </Modal>
      <Modal
        open={asking === "delete"}
        title="Delete this draft?"
        okText={`Delete the draft of ${money(invoice.net)}`}
        okButtonProps={{ danger: true }}
        cancelText="Keep it"
        onCancel={() => setAsking(null)}
        onOk={remove}
        confirmLoading={acts.remove.isPending}
      >
        The draft for {invoice.client} over {money(invoice.net)} net goes, and its {invoice.lines.length}{" "}
        {invoice.lines.length === 1 ? "entry is" : "entries are"} unbilled again. Texts that were changed on it are
        lost; this can't be undone.
      </Modal>
    </>
  );
}
