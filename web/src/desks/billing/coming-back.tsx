import { useState } from "react";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import { ChoiceField, DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Refused } from "../../frame/state";
import type { Invoice } from "./use-billing";

const often = [
  { value: "week", label: "every week" },
  { value: "month", label: "every month" },
  { value: "quarter", label: "every quarter" },
  { value: "year", label: "every year" },
] as const;

/** Lets an invoice come back: its lines become a plan of bills, until it is stopped. */
export function ComingBack({ invoice }: { invoice: Invoice }) {
  const path = { id: invoice.id };
  const form = useTyping({ every: "month" as (typeof often)[number]["value"], times: "12", until: "" });
  const [asking, setAsking] = useState(false);
  const plan = useAct(() => {
    const { every, times, until } = form.typed;
    return api.put("/api/invoices/{id}/coming-back", {
      path,
      body: { every, times: Number(times) || 0, ...(until && { until }) },
    });
  });
  const stop = useAct(() => api.delete("/api/invoices/{id}/coming-back", { path }));
  const { returns } = invoice;
  if (asking)
    return (
      <Form
        label="Coming back"
        act={plan}
        ok="Let it come back"
        onOk={() => plan.mutate(undefined, { onSuccess: () => setAsking(false) })}
        no="Leave it"
        onNo={() => setAsking(false)}
      >
        <ChoiceField of={form} name="every" label="How often" options={[...often]} focus />
        <TextField of={form} name="times" label="How many times" />
        <DayField of={form} name="until" label="Until at most" any="as often as it says" />
      </Form>
    );
  if (!returns) return <Do onClick={() => setAsking(true)}>Let it come back</Do>;
  return (
    <span>
      Comes back {returns.bills === 1 ? "once more" : `${returns.bills} times more`}, next on {long(returns.next)}
      {returns.bills > 1 && `, last on ${long(returns.last)}`}.{" "}
      <Do disabled={stop.isPending} onClick={() => stop.mutate()}>
        Stop
      </Do>
      <Refused by={stop.error} inline />
    </span>
  );
}
