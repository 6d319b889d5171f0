import { useState } from "react";
import { Link } from "react-router";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import { FillMark } from "../../frame/fill-mark";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { money as amount, days, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { acts as money, useMoneyAct } from "../receivables/use-receivables";
import reviewCss from "./review.module.css";
import { changes, type Invoice, useDraftChange } from "./use-billing";

type Part = Invoice["instalments"][number];

const due = (words?: "with words"): Column<Part> => ({
  name: "Due",
  names: "light",
  cell: (part) => (
    <>
      due {long(part.due)}
      {part.daysLate > 0 && <span className="lost">, {part.daysLate} days late</span>}
      {words && <span className="under">{part.words}</span>}
    </>
  ),
});

const owing: Column<Part>[] = [
  amount("Amount", (part) => part.amount),
  amount("Open", (part) => part.open, {
    cell: (part) =>
      part.open.minor === 0 ? (
        <span className="soft">settled</span>
      ) : (
        <>
          <Money of={part.open} /> <span className="soft">open</span>
        </>
      ),
  }),
];

const settling: Column<Invoice["money"][number]>[] = [
  days("Day", (line) => line.day, { names: "light" }),
  text("What", (line) => line.text, {
    cell: (line) =>
      line.paymentId ? <Link to={`/receivables?show=payments&payment=${line.paymentId}`}>{line.text}</Link> : line.text,
  }),
  amount("Amount", (line) => line.amount),
];

const notes: Column<Invoice["notes"][number]>[] = [
  text("Number", (note) => note.number, {
    names: "light",
    cell: (note) => (
      <Link to={`/billing/${note.id}`} className={tableCss.marked}>
        <FillMark state={note.state} /> {note.number}
      </Link>
    ),
  }),
  days("Dated", (note) => note.dated),
  amount("Total", (note) => note.total),
];

/** What became of an issued invoice: its instalments, what settled it, its credit notes. */
export function Issued({ invoice, mayAct = false }: { invoice: Invoice; mayAct?: boolean }) {
  const act = useMoneyAct<Invoice>();
  return (
    <div className={reviewCss.issued}>
      {invoice.credits && (
        <p>
          Credits{" "}
          <Link to={`/billing/${invoice.credits.id}`}>
            {invoice.credits.number} of {long(invoice.credits.dated)}
          </Link>
          .
        </p>
      )}
      {invoice.instalments.length > 0 && (
        <Table
          headless
          className={reviewCss.parts}
          caption={invoice.instalments.length > 1 ? "Instalments" : "What is owed"}
          rows={invoice.instalments}
          columns={invoice.instalments.length > 1 ? [due("with words"), ...owing] : [due(), ...owing]}
          id={(_, index) => index}
        />
      )}
      {invoice.money.length > 0 && (
        <Table
          headless
          className={reviewCss.parts}
          caption="What settled it"
          rows={invoice.money}
          columns={settling}
          id={(_, index) => index}
        />
      )}
      {mayAct && invoice.money.some((line) => line.since) && (
        <p>
          <Do onClick={() => act.mutate(money.takeBack(invoice.id))}>Take funds and credit off it again</Do>
          <Refused by={act.error} inline />
        </p>
      )}
      {invoice.notes.length > 0 && (
        <Table
          headless
          className={reviewCss.parts}
          caption="Credit notes"
          rows={invoice.notes}
          columns={notes}
          id={(note) => note.id}
        />
      )}
    </div>
  );
}

/** Notes that the client disputes the invoice, and why; or that they do no more. */
export function Dispute({ invoice }: { invoice: Invoice }) {
  const change = useDraftChange(invoice);
  const [open, setOpen] = useState(false);
  const form = useTyping({ reason: "" });
  const say = (why: string) => change.mutate(changes.dispute(why), { onSuccess: () => setOpen(false) });
  if (invoice.disputed)
    return (
      <p className={deskCss.findingBox}>
        <b>Disputed:</b> {invoice.disputed} <Do onClick={() => say("")}>Settled, no more</Do>
      </p>
    );
  if (!open) return <Do onClick={() => setOpen(true)}>The client disputes it</Do>;
  return (
    <Form
      label="Dispute"
      act={change}
      ok="Note the dispute"
      ready={form.typed.reason.trim() !== ""}
      onOk={() => say(form.typed.reason)}
      onNo={() => setOpen(false)}
    >
      <TextField of={form} name="reason" label="What do they dispute?" focus />
    </Form>
  );
}
