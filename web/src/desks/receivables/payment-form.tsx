import { Button } from "antd";
import { useState } from "react";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { typedNumber, useMoneyText } from "../../frame/figure";
import { DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useSaid } from "../../frame/form/use-said";
import { useTyping } from "../../frame/form/use-typing";
import { Refused } from "../../frame/state";
import { ApplyFunds, HeldOffer } from "./apply-funds";
import { ClientField } from "./client-field";
import { type Method, MethodField } from "./money-fields";
import { openInvoices, PaidInvoices } from "./paid-invoices";
import { acts, type Payment, useMoneyAct, useOwed } from "./use-receivables";

interface Props {
  client: number;
  /** The invoice that it is for; 0: the oldest first. */
  invoice: number;
  onDone: () => void;
}

/** A payment by hand: how much came when, and what it pays. */
export function PaymentForm({ client: asked, invoice, onDone }: Props) {
  const { today, decimals, mark } = useSession();
  const money = useMoneyText();
  const form = useTyping({
    clientId: asked,
    amount: undefined as string | undefined,
    day: today,
    method: "transfer" as Method,
    reference: "",
    on: {} as Record<number, string>,
  });
  const { clientId, on, ...typed } = form.typed;
  const owed = useOwed({ client: clientId || -1, lead: 0, late: 0 });
  const invoices = openInvoices(owed.data?.clients.flatMap((c) => c.open) ?? []);
  const named = invoices.find((one) => one.invoiceId === invoice);
  const act = useMoneyAct<Payment>();
  const amount = typed.amount ?? (named ? typedNumber(named.open.minor, decimals[named.open.currency] ?? 2, mark) : "");
  const chosen = Object.entries(named && Object.keys(on).length === 0 ? { [named.invoiceId]: "" } : on);
  const said = useSaid("amount", amount);
  const [received, setReceived] = useState<Payment>();
  const [applying, setApplying] = useState(false);
  const held = owed.data?.clients.find((c) => c.clientId === clientId)?.held;
  const save = () =>
    act.mutate(
      acts.receive({
        ...typed,
        amount,
        clientId,
        entityId: 0,
        currency: "",
        note: "",
        on: chosen.map(([id, part]) => ({ invoiceId: Number(id), amount: part })),
      }),
      { onSuccess: setReceived },
    );
  if (received)
    return (
      <>
        <h2>Received {money(received.amount)}</h2>
        <p>
          {received.on ? `It is on ${received.on}.` : "It is on no invoice."}
          {received.unapplied.minor !== 0 && (
            <> {money(received.unapplied)} is more than was owed: it is credit, offered on the client's next invoice.</>
          )}
        </p>
        <p className={formCss.ending}>
          <Button type="primary" onClick={onDone} autoFocus>
            Done
          </Button>
          <Do onClick={() => act.mutate(acts.reverse(received.id, "Recorded by mistake"), { onSuccess: onDone })}>
            Undo: reverse it
          </Do>
        </p>
        <Refused by={act.error} />
      </>
    );
  if (applying) return <ApplyFunds clients={[clientId]} onDone={() => setApplying(false)} />;
  return (
    <Form
      label="Payment"
      title="Record a payment"
      act={act}
      ok={said && !said.wrong ? `Receive ${said.said.slice(2)}` : "Receive"}
      ready={Boolean(clientId && amount)}
      onOk={save}
      onNo={onDone}
    >
      <ClientField of={form} />
      {held && held.minor > 0 && (
        <p className={deskCss.findingBox}>
          <HeldOffer held={held} onApply={() => setApplying(true)} />
        </p>
      )}
      <TextField of={{ ...form, typed: { ...form.typed, amount } }} name="amount" label="Amount" as="amount" focus />
      <DayField of={form} name="day" label="Received on" />
      <MethodField of={form} />
      <TextField of={form} name="reference" label="Reference" />
      <PaidInvoices
        invoices={invoices}
        on={on}
        onChange={(next) => form.set({ on: next })}
        caption="Leave empty to pay the oldest first"
        placeholder={(one) => (named?.invoiceId === one.invoiceId && Object.keys(on).length === 0 ? "this one" : "")}
      />
    </Form>
  );
}
