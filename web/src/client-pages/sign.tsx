import { Button, Radio } from "antd";
import { useState } from "react";
import type { Schema } from "../api/client";
import { TextField } from "../frame/form/fields";
import { Form } from "../frame/form/form";
import { useTyping } from "../frame/form/use-typing";
import { Refused } from "../frame/state";
import clientCss from "./client.module.css";
import type { Page } from "./offer";
import { useClientActs } from "./use-link";

/** Accepting: a way of paying if it is asked, a code by mail, and one's name as signature. */
export function SignForm({ page, secret }: { page: Page; secret: string }) {
  const acts = useClientActs(secret);
  const form = useTyping({ name: "", code: "" });
  const [wayId, setWayId] = useState(0);
  const { tier, options, quantities, gross } = page.chosen;
  const { name, code } = form.typed;
  const needsWay = page.pays === "now" && wayId === 0;
  return (
    <section aria-label="Accept and sign" className={clientCss.clientForm}>
      <h2>
        Accept {page.tiers[tier]?.name} at {page.currency} {gross} with tax
      </h2>
      {page.pays !== "no" && page.ways.length > 0 && (
        <Way page={page} secret={secret} given={wayId > 0} onGiven={setWayId} />
      )}
      <Form
        size="large"
        label="Signature"
        act={acts.accept}
        ok="Sign and accept"
        ready={!needsWay && name.trim() !== "" && code.trim() !== ""}
        onOk={() => acts.accept.mutate({ chosen: { tier, options, quantities }, gross, name, code, wayId })}
        more={needsWay && <span className="soft">Give a way of paying first.</span>}
      >
        <TextField of={form} name="name" label="Your name, as signature" autoComplete="name" />
        <TextField of={form} name="code" label="The code that we mail to you" autoComplete="one-time-code" />
        <p>
          <Button onClick={() => acts.code.mutate()} loading={acts.code.isPending}>
            {acts.code.isSuccess ? "Mail another code" : "Mail me the code"}
          </Button>{" "}
          <span role="status">
            {acts.code.isSuccess && "The code is on its way."}
            <Refused by={acts.code.error} inline />
          </span>
        </p>
      </Form>
    </section>
  );
}

const empty: Schema["GivenMethod"] = { kind: "card", number: "", expires: "", code: "", iban: "", holder: "" };

interface WayProps {
  page: Page;
  secret: string;
  given: boolean;
  onGiven: (id: number) => void;
}

/** A card, an account, or later. Nothing is collected here: the way is kept. */
function Way({ page, secret, given, onGiven }: WayProps) {
  const acts = useClientActs(secret);
  const [kind, setKind] = useState(page.pays === "now" ? (page.ways[0] ?? "later") : "later");
  const form = useTyping(empty);
  if (given) return <p className={clientCss.settledText}>To be paid by {acts.way.data?.words}.</p>;
  const give = () =>
    acts.way.mutate(
      { ...form.typed, kind: kind === "card" ? "card" : "debit" },
      {
        onSuccess: (kept) => {
          form.set(empty);
          onGiven(kept.id);
        },
      },
    );
  return (
    <fieldset>
      <legend>How you will pay</legend>
      <Radio.Group
        value={kind}
        onChange={(event) => setKind(event.target.value)}
        options={[
          ...(page.ways.includes("card") ? [{ value: "card", label: "Card" }] : []),
          ...(page.ways.includes("debit") ? [{ value: "debit", label: "Bank debit" }] : []),
          ...(page.pays === "later" ? [{ value: "later", label: "Later" }] : []),
        ]}
      />
      {kind !== "later" && (
        <Form size="large" label="Way of paying" act={acts.way} ok="Use this" onOk={give}>
          {kind === "card" ? (
            <>
              <TextField of={form} name="number" label="Card number" autoComplete="cc-number" />
              <div className={clientCss.two}>
                <TextField of={form} name="expires" label="Ends, month/year" autoComplete="cc-exp" />
                <TextField of={form} name="code" label="Code" autoComplete="cc-csc" />
              </div>
              <TextField of={form} name="holder" label="Name on the card" autoComplete="cc-name" />
            </>
          ) : (
            <>
              <TextField of={form} name="iban" label="IBAN" autoComplete="off" />
              <TextField of={form} name="holder" label="Name of the account's holder" autoComplete="name" />
            </>
          )}
        </Form>
      )}
    </fieldset>
  );
}
