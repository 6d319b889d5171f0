import { useState } from "react";
import { Link } from "react-router";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { useForm, useRecordActs, useRows } from "../../frame/record/use-record";

interface Props {
  person: string;
  name: string;
}

/** What an hour of a person is billed at and costs: asked where the person is made. The first holds from ever. */
export function PersonRates({ person, name }: Props) {
  const rates = useRows("rates");
  const form = useForm("rates");
  // Asked of who has none; what is typed stays until all of it is kept.
  const [asking, setAsking] = useState<boolean>();
  if (!rates.data || !form.data) return null;
  const names = form.data.fields.filter((f) => f.column).map((f) => f.name);
  const cell = (cells: string[], column: string) => cells[names.indexOf(column)] ?? "";
  const own = rates.data.filter((row) => cell(row.cells, "for") === name);
  return (
    <section aria-label="Rates">
      <h2 className="sub">An hour of theirs</h2>
      {own.map((row) => (
        <p key={row.id}>
          <Link to={`/set-up/rates?open=${row.id}`} className="quiet">
            {cell(row.cells, "per_hour")} {cell(row.cells, "currency")}
          </Link>{" "}
          <span className="soft">
            {cell(row.cells, "kind")}, from {long(cell(row.cells, "from"))}
          </span>
        </p>
      ))}
      {(asking ?? own.length === 0) ? (
        <RateForm person={person} name={name} onKeep={() => setAsking(true)} onDone={() => setAsking(false)} />
      ) : (
        <Do onClick={() => setAsking(true)}>Another from today</Do>
      )}
    </section>
  );
}

function RateForm({ person, name, onKeep, onDone }: Props & { onKeep: () => void; onDone: () => void }) {
  const acts = useRecordActs("rates");
  const form = useTyping({ bill: "", cost: "" });
  const { bill, cost } = form.typed;
  const keep = async () => {
    onKeep();
    if (bill) await acts.add.mutateAsync({ person, kind: "bill", per_hour: bill });
    form.set({ bill: "" });
    if (cost) await acts.add.mutateAsync({ person, kind: "cost", per_hour: cost });
    onDone();
  };
  return (
    <Form
      label={`Rates of ${name}`}
      act={acts.add}
      ok="Keep the rates"
      ready={Boolean(bill || cost)}
      onOk={() => keep().catch(() => {})}
    >
      <TextField of={form} name="bill" label="It is billed at" as="amount" placeholder="as the grade or the firm" />
      <TextField of={form} name="cost" label="It costs us" as="amount" placeholder="as the grade or the firm" />
    </Form>
  );
}
