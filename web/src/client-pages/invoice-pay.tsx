import { Button, Radio } from "antd";
import { useState } from "react";
import type { Schema } from "../api/client";
import { TextField } from "../frame/form/fields";
import { Form } from "../frame/form/form";
import { useTyping } from "../frame/form/use-typing";
import { useSettled } from "../frame/use-settled";
import clientCss from "./client.module.css";
import invoiceCss from "./invoice.module.css";
import type { Words } from "./invoice-words";
import { useOffer, usePay } from "./use-invoice";

type Kind = Schema["GivenMethod"]["kind"];

const nothing: Omit<Schema["GivenMethod"], "kind"> & { amount: string } = {
  amount: "",
  number: "",
  expires: "",
  code: "",
  iban: "",
  holder: "",
};

/** Paying what is owed by a card or a bank debit: what will be taken stands on the button, with its fee. */
export function Pay({ secret, words }: { secret: string; words: Words }) {
  const form = useTyping(nothing);
  const [kind, setKind] = useState<Kind | "">("");
  const { amount, ...method } = form.typed;
  const typed = useSettled(amount, 250);
  const offer = useOffer(secret, typed, kind);
  const pay = usePay(secret);
  const o = offer.data;
  if (!o) return null;
  const chosen = kind && o.ways.includes(kind) ? kind : undefined;
  return (
    <section aria-label={words.pay} className={clientCss.clientForm}>
      {(o.ways.length > 0 || o.link) && <h2 className="sub">{words.pay}</h2>}
      {o.ways.length > 0 && (
        <Radio.Group
          value={chosen}
          onChange={(event) => setKind(event.target.value)}
          options={o.ways.map((way) => ({ value: way, label: words[way === "card" ? "card" : "debit"] }))}
        />
      )}
      {chosen && (
        <Form
          size="large"
          label={words.pay}
          act={pay}
          ok={`${words.pay_now} ${o.withFee}`}
          ready={typed === amount && !offer.error}
          onOk={() =>
            pay.mutate(
              { amount, shown: o.withFee, method: { ...method, kind: chosen } },
              {
                onSuccess: () => {
                  form.set(nothing);
                  setKind("");
                },
              },
            )
          }
        >
          {o.parts && <TextField of={form} name="amount" label={`${words.amount}: ${o.first}, ${words.of} ${o.all}`} />}
          {offer.error && <p className="refusal">{offer.error.message}</p>}
          {chosen === "card" ? (
            <>
              <TextField of={form} name="number" label={words.number} autoComplete="cc-number" />
              <div className={clientCss.two}>
                <TextField of={form} name="expires" label={words.ends} autoComplete="cc-exp" />
                <TextField of={form} name="code" label={words.code} autoComplete="cc-csc" />
              </div>
            </>
          ) : (
            <TextField of={form} name="iban" label={words.iban} autoComplete="off" />
          )}
          <TextField of={form} name="holder" label={words.holder} autoComplete="name" />
          {o.fee && (
            <p className="soft">
              {o.withFee} {words.fee} {o.fee}
            </p>
          )}
        </Form>
      )}
      {o.link && (
        <p>
          <Button size="large" href={o.link} rel="noreferrer">
            {words.elsewhere}
          </Button>
        </p>
      )}
      {o.payments.length > 0 && (
        <ul role="status" className={invoiceCss.paid}>
          {o.payments.map((paid, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: what was paid does not move
            <li key={at}>
              <span className="figure">{paid.amount}</span> {words[paid.state]}
              {paid.problem && `: ${paid.problem}`}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
