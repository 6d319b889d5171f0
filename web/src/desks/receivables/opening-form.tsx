import { Button } from "antd";
import { useState } from "react";
import type { Schema } from "../../api/client";
import formCss from "../../frame/form/form.module.css";
import { Refused } from "../../frame/state";
import { ClientField } from "./client-field";
import { TextField } from "./money-fields";
import { acts, useMoneyAct } from "./use-receivables";

/** An old invoice of a client who was taken over: paid and aged like any other. */
export function OpeningForm({ client: asked, onDone }: { client: number; onDone: () => void }) {
  const [client, setClient] = useState(asked);
  const [number, setNumber] = useState("");
  const [dated, setDated] = useState("");
  const [due, setDue] = useState("");
  const [balance, setBalance] = useState("");
  const act = useMoneyAct<Schema["Invoice"]>();
  const save = () =>
    act.mutate(
      acts.open({ clientId: client, entityId: 0, number, dated, ...(due ? { due } : {}), balance, currency: "" }),
      { onSuccess: onDone },
    );
  return (
    <section className={formCss.newRecord} aria-label="Old invoice">
      <h2>Take over an old invoice</h2>
      <p className="soft">What was issued before, and is still owed: it is paid and grows old like any other.</p>
      <ClientField value={client} onChange={setClient} />
      <TextField label="Its old number" value={number} focus onChange={setNumber} onEnter={save} />
      <TextField label="Dated" value={dated} hint="2026-08-31" onChange={setDated} onEnter={save} />
      <TextField label="Due" value={due} hint="by the client's terms" onChange={setDue} onEnter={save} />
      <TextField label="Still owed, gross" value={balance} onChange={setBalance} onEnter={save} />
      <Refused by={act.error} />
      <p className={formCss.newActs}>
        <Button
          type="primary"
          disabled={!client || !number || !dated || !balance}
          loading={act.isPending}
          onClick={save}
        >
          Take it over
        </Button>
        <Button onClick={onDone}>Not now</Button>
      </p>
    </section>
  );
}
