import { Button, Input, Radio } from "antd";
import { type FormEvent, useState } from "react";
import type { Schema } from "../api/client";
import { Refused } from "../frame/state";
import clientCss from "./client.module.css";
import type { Page } from "./offer";
import { useClientActs } from "./use-link";

/** Accepting: a way of paying if it is asked, a code by mail, and one's name as signature. */
export function SignForm({ page, secret }: { page: Page; secret: string }) {
  const acts = useClientActs(secret);
  const [name, setName] = useState("");
  const [code, setCode] = useState("");
  const [wayId, setWayId] = useState(0);
  const { tier, options, quantities } = page.chosen;
  const needsWay = page.pays === "now" && wayId === 0;
  const sign = (event: FormEvent) => {
    event.preventDefault();
    acts.accept.mutate({ chosen: { tier, options, quantities }, gross: page.chosen.gross, name, code, wayId });
  };
  return (
    <section aria-label="Accept and sign" className={clientCss.clientForm}>
      <h2>
        Accept {page.tiers[tier]?.name} at {page.currency} {page.chosen.gross} with tax
      </h2>
      {page.pays !== "no" && page.ways.length > 0 && (
        <Way page={page} secret={secret} given={wayId > 0} onGiven={setWayId} />
      )}
      <form onSubmit={sign}>
        <label>
          Your name, as signature
          <Input size="large" autoComplete="name" value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        <label>
          The code that we mail to you
          <Input
            size="large"
            inputMode="numeric"
            autoComplete="one-time-code"
            value={code}
            onChange={(event) => setCode(event.target.value)}
          />
        </label>
        <p>
          <Button onClick={() => acts.code.mutate()} loading={acts.code.isPending}>
            {acts.code.isSuccess ? "Mail another code" : "Mail me the code"}
          </Button>{" "}
          <span role="status">
            {acts.code.isSuccess && "The code is on its way."}
            <Refused by={acts.code.error} inline />
          </span>
        </p>
        <Refused by={acts.accept.error} />
        <Button
          type="primary"
          size="large"
          htmlType="submit"
          disabled={needsWay || name.trim() === "" || code.trim() === ""}
          loading={acts.accept.isPending}
        >
          Sign and accept
        </Button>
        {needsWay && <p className="soft">Give a way of paying first.</p>}
      </form>
    </section>
  );
}

const empty: Schema["GivenPaymentMethod"] = { kind: "card", number: "", expires: "", code: "", iban: "", holder: "" };

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
  const [typed, setTyped] = useState(empty);
  const field = (name: keyof typeof empty, label: string, complete: string) => (
    <label>
      {label}
      <Input
        size="large"
        autoComplete={complete}
        value={typed[name]}
        onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      />
    </label>
  );
  if (given) return <p className={clientCss.settledText}>To be paid by {acts.way.data?.words}.</p>;
  const give = (event: FormEvent) => {
    event.preventDefault();
    acts.way.mutate(
      { ...typed, kind: kind === "card" ? "card" : "debit" },
      {
        onSuccess: (kept) => {
          setTyped(empty);
          onGiven(kept.id);
        },
      },
    );
  };
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
        <form onSubmit={give}>
          {kind === "card" ? (
            <>
              {field("number", "Card number", "cc-number")}
              <div className={clientCss.two}>
                {field("expires", "Ends, month/year", "cc-exp")}
                {field("code", "Code", "cc-csc")}
              </div>
              {field("holder", "Name on the card", "cc-name")}
            </>
          ) : (
            <>
              {field("iban", "IBAN", "off")}
              {field("holder", "Name of the account's holder", "name")}
            </>
          )}
          <Refused by={acts.way.error} />
          <Button htmlType="submit" loading={acts.way.isPending}>
            Use this
          </Button>
        </form>
      )}
    </fieldset>
  );
}
