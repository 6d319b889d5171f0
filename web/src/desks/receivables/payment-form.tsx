import { Button, Input } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import { Money, typedNumber, useMoneyText } from "../../frame/figure";
import formCss from "../../frame/form/form.module.css";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { ClientField } from "./client-field";
import { type Method, MethodField, TextField } from "./money-fields";
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
  const [client, setClient] = useState(asked);
  const owed = useOwed({ client: client || -1, lead: 0, late: 0 });
  const parts = owed.data?.clients.flatMap((c) => c.open) ?? [];
  const invoices = [...new Map(parts.map((part) => [part.invoiceId, part])).values()].map((part) => ({
    ...part,
    open: {
      ...part.open,
      minor: parts.filter((p) => p.invoiceId === part.invoiceId).reduce((sum, p) => sum + p.open.minor, 0),
    },
  }));
  const named = invoices.find((one) => one.invoiceId === invoice);
  const [day, setDay] = useState(today);
  const [amount, setAmount] = useState<string>();
  const [method, setMethod] = useState<Method>("transfer");
  const [reference, setReference] = useState("");
  const [on, setOn] = useState<Record<number, string>>({});
  const [received, setReceived] = useState<Payment>();
  const act = useMoneyAct<Payment>();
  const typed = amount ?? (named ? typedNumber(named.open.minor, decimals[named.open.currency] ?? 2, mark) : "");
  const chosen = Object.entries(named && Object.keys(on).length === 0 ? { [named.invoiceId]: "" } : on);
  const save = () =>
    act.mutate(
      acts.receive({
        clientId: client,
        entityId: 0,
        currency: "",
        day,
        amount: typed,
        method,
        reference,
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
  return (
    <section className={formCss.newRecord} aria-label="Payment">
      <h2>Record a payment</h2>
      <ClientField value={client} onChange={setClient} />
      <TextField label="Amount" value={typed} focus onChange={setAmount} onEnter={save} />
      <TextField label="Received on" value={day} onChange={setDay} onEnter={save} />
      <MethodField value={method} onChange={setMethod} />
      <TextField label="Reference" value={reference} onChange={setReference} onEnter={save} />
      {invoices.length > 0 && (
        <table className={clsx(tableCss.plain, tableCss.entries)}>
          <caption>Leave empty to pay the oldest first</caption>
          <tbody>
            {invoices.map((one) => (
              <tr key={one.invoiceId}>
                <th scope="row">
                  {one.number}
                  <span className="under">due {long(one.due)}</span>
                </th>
                <td className="number">
                  <Money of={one.open} />
                </td>
                <td>
                  <Input
                    size="small"
                    aria-label={`On ${one.number}`}
                    placeholder={named?.invoiceId === one.invoiceId && Object.keys(on).length === 0 ? "this one" : ""}
                    value={on[one.invoiceId] ?? ""}
                    onChange={(event) => {
                      const next = { ...on, [one.invoiceId]: event.target.value };
                      if (!event.target.value) delete next[one.invoiceId];
                      setOn(next);
                    }}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Refused by={act.error} />
      <p className={formCss.newActs}>
        <Button type="primary" disabled={!client || !typed} loading={act.isPending} onClick={save}>
          Receive {typed}
        </Button>
        <Button onClick={onDone}>Not now</Button>
      </p>
    </section>
  );
}
