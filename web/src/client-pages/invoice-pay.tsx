import { Button, Radio } from "antd";
import { useState } from "react";
import type { Schema } from "../api/client";
import { CheckField, TextField } from "../frame/form/fields";
import { Form } from "../frame/form/form";
import { type Typing, useTyping } from "../frame/form/use-typing";
import { useSettled } from "../frame/use-settled";
import clientCss from "./client.module.css";
import invoiceCss from "./invoice.module.css";
import type { Words } from "./invoice-words";
import { useOffer, usePay } from "./use-invoice";

type Offer = Schema["Offer"];
type Kind = Schema["GivenMethod"]["kind"];

const nothing = { amount: "", gift: "", number: "", expires: "", code: "", iban: "", holder: "", keep: false };

type Typed = typeof nothing;

/** How it is paid: by a way that was kept, or one that is given now. */
interface Chosen {
  kind: Kind;
  keptId: number;
}

/** What is offered, as it can be chosen. */
const choices = (offer: Offer, words: Words): { value: string; label: string; chosen: Chosen }[] => [
  ...offer.kept.map(({ id, kind, words }) => ({ value: `kept ${id}`, label: words, chosen: { kind, keptId: id } })),
  ...offer.ways.map((way) => ({
    value: way,
    label: words[way === "card" ? "card" : "debit"],
    chosen: { kind: way as Kind, keptId: 0 },
  })),
];

/** Paying what is owed by a card or a bank debit: what will be taken stands on the button, with its fee. */
export function Pay({ secret, words }: { secret: string; words: Words }) {
  const form = useTyping<Typed>(nothing);
  const [way, setWay] = useState("");
  const { amount, gift, keep, ...given } = form.typed;
  const typed = useSettled({ amount, gift }, 250);
  const [kind, setKind] = useState<Kind | "">("");
  const offer = useOffer(secret, { ...typed, kind });
  const pay = usePay(secret);
  const o = offer.data;
  if (!o) return null;
  const offered = choices(o, words);
  const chosen = offered.find((one) => one.value === way)?.chosen;
  const done = () => {
    form.set(nothing);
    setWay("");
    setKind("");
  };
  return (
    <section aria-label={words.pay} className={clientCss.clientForm}>
      {(o.ways.length > 0 || o.link) && <h2 className="sub">{words.pay}</h2>}
      {offered.length > 0 && (
        <Radio.Group
          value={chosen && way}
          onChange={(event) => {
            setWay(event.target.value);
            setKind(offered.find((one) => one.value === event.target.value)?.chosen.kind ?? "");
          }}
          options={offered}
        />
      )}
      {chosen && (
        <Form
          size="large"
          label={words.pay}
          act={pay}
          ok={`${words.pay_now} ${o.withFee}`}
          ready={typed.amount === amount && typed.gift === gift && !offer.error}
          onOk={() =>
            pay.mutate(
              { amount, gift, keep, shown: o.withFee, keptId: chosen.keptId, method: { ...given, kind: chosen.kind } },
              { onSuccess: done },
            )
          }
        >
          {o.parts && <TextField of={form} name="amount" label={`${words.amount}: ${o.first}, ${words.of} ${o.all}`} />}
          {o.gift && <TextField of={form} name="gift" label={words.gift} />}
          {offer.error && <p className="refusal">{offer.error.message}</p>}
          {chosen.keptId === 0 && <Method form={form} kind={chosen.kind} words={words} />}
          {chosen.keptId === 0 && o.consent && <CheckField of={form} name="keep" label={o.consent} wide />}
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
      <Paid offer={o} words={words} />
    </section>
  );
}

/** A card, or an account to be debited. */
function Method({ form, kind, words }: { form: Typing<Typed>; kind: Kind; words: Words }) {
  return (
    <>
      {kind === "card" ? (
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
    </>
  );
}

/** What was paid here, and how far it is. */
function Paid({ offer, words }: { offer: Offer; words: Words }) {
  if (offer.payments.length === 0) return null;
  return (
    <ul role="status" className={invoiceCss.paid}>
      {offer.payments.map((paid, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: what was paid does not move
        <li key={at}>
          <span className="figure">{paid.amount}</span> {words[paid.state]}
          {paid.problem && `: ${paid.problem}`}
        </li>
      ))}
    </ul>
  );
}
