import { useState } from "react";
import { useSession } from "../../api/session";
import { Do } from "../../frame/do";
import { Money, typedNumber, useMoneyText } from "../../frame/figure";
import { ChoiceField, DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Refused } from "../../frame/state";
import { type Reason, reasons } from "../receivables/lost-view";
import { type Method, MethodField } from "../receivables/money-fields";
import { acts, useMoneyAct } from "../receivables/use-receivables";
import type { Invoice } from "./use-billing";

/** What of an invoice is given up, and what becomes of it: it comes after all, or is owed again. */
export function Lost({ invoice }: { invoice: Invoice }) {
  const [doing, setDoing] = useState<"" | "write off" | "came">("");
  const act = useMoneyAct<unknown>();
  const done = () => setDoing("");
  if (doing === "write off") return <WriteOffForm invoice={invoice} onDone={done} />;
  if (doing === "came") return <CameForm invoice={invoice} onDone={done} />;
  return (
    <>
      {invoice.writtenOff.minor !== 0 && (
        <p>
          <Money of={invoice.writtenOff} /> of it is written off as bad debt.{" "}
          <Do onClick={() => setDoing("came")}>It came after all</Do>{" "}
          <Do onClick={() => act.mutate(acts.oweAgain(invoice.id))}>It is owed again</Do>
          <Refused by={act.error} inline />
        </p>
      )}
      {invoice.open.minor !== 0 && (
        <p>
          <Do onClick={() => setDoing("write off")}>Write off what is owed</Do>
        </p>
      )}
    </>
  );
}

interface Props {
  invoice: Invoice;
  onDone: () => void;
}

function WriteOffForm({ invoice, onDone }: Props) {
  const { today } = useSession();
  const said = useMoneyText();
  const act = useMoneyAct<Invoice>();
  const form = useTyping({ reason: "unwilling" as Reason, day: today, amount: "", note: "" });
  return (
    <Form
      inPlace
      label="Write off"
      title={`Write off ${form.typed.amount || said(invoice.open)}`}
      act={act}
      ok="Write it off"
      onOk={() => act.mutate(acts.writeOff(invoice.id, form.typed), { onSuccess: onDone })}
      onNo={onDone}
    >
      <ChoiceField of={form} name="reason" label="Because" options={reasons} />
      <TextField of={form} name="amount" label="Amount" hint={`empty: all, ${said(invoice.open)}`} />
      <DayField of={form} name="day" label="On" />
      <TextField of={form} name="note" label="Note" wide focus />
    </Form>
  );
}

function CameForm({ invoice, onDone }: Props) {
  const { today, decimals, mark } = useSession();
  const act = useMoneyAct<unknown>();
  const { clientId, currency, minor } = { ...invoice, ...invoice.writtenOff };
  const form = useTyping({
    amount: typedNumber(minor, decimals[currency] ?? 2, mark),
    day: today,
    method: "transfer" as Method,
    reference: "",
  });
  const receive = acts.receive({
    ...form.typed,
    clientId,
    entityId: 0,
    currency,
    note: "",
    on: [{ invoiceId: invoice.id, amount: "" }],
  });
  return (
    <Form
      inPlace
      label="Came after all"
      title="What came after all"
      act={act}
      ok="Receive"
      ready={form.typed.amount !== ""}
      onOk={() => act.mutate(receive, { onSuccess: onDone })}
      onNo={onDone}
    >
      <TextField of={form} name="amount" label="Amount" focus />
      <DayField of={form} name="day" label="On" />
      <MethodField of={form} />
      <TextField of={form} name="reference" label="Reference" />
    </Form>
  );
}
