import type { Schema } from "../../api/client";
import { DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { ClientField, EngagementField } from "./client-field";
import { acts, useMoneyAct } from "./use-receivables";

/** An old invoice of a client who was taken over: paid and aged like any other. */
export function OpeningForm({ client, onDone }: { client: number; onDone: () => void }) {
  const form = useTyping({ clientId: client, engagementId: 0, number: "", dated: "", due: "", balance: "" });
  const act = useMoneyAct<Schema["Invoice"]>();
  const { due, ...typed } = form.typed;
  const body = { ...typed, entityId: 0, currency: "", ...(due && { due }) };
  return (
    <Form
      label="Old invoice"
      title="Take over an old invoice"
      act={act}
      ok="Take it over"
      ready={Boolean(typed.clientId && typed.number && typed.dated && typed.balance)}
      onOk={() => act.mutate(acts.open(body), { onSuccess: onDone })}
      onNo={onDone}
    >
      <p className="soft">What was issued before, and is still owed: it is paid and grows old like any other.</p>
      <ClientField of={form} />
      <EngagementField of={form} />
      <TextField of={form} name="number" label="Its old number" focus />
      <DayField of={form} name="dated" label="Dated" any="30 nov" />
      <DayField of={form} name="due" label="Due" any="by the client's terms" />
      <TextField of={form} name="balance" label="Still owed, gross" as="amount" />
    </Form>
  );
}
