import { useState } from "react";
import { Link } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { useForm, useRecordActs, useRows, useSheet } from "../../frame/record/use-record";

interface Props {
  /** The key of the person; without, they are the rates of the whole firm. */
  person?: string;
  name: string;
  title: string;
}

/** What an hour is billed at and costs, of a person where they are made, or of the whole firm. The first holds from ever. */
export function RatesOf({ person, name, title }: Props) {
  const rates = useRows("rates");
  const form = useForm("rates");
  // Asked of who has none; what is typed stays until all of it is kept.
  const [asking, setAsking] = useState<boolean>();
  const [made, setMade] = useState(0);
  if (!rates.data || !form.data) return null;
  const names = form.data.fields.filter((f) => f.column).map((f) => f.name);
  const cell = (cells: string[], column: string) => cells[names.indexOf(column)] ?? "";
  const own = rates.data.filter((row) => cell(row.cells, "for") === name);
  return (
    <section aria-label={title}>
      <h2 className="sub">{title}</h2>
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
        <RateForm
          person={person}
          title={title}
          begun={own.length > 0}
          onKeep={() => setAsking(true)}
          onDone={(id) => {
            setAsking(false);
            setMade(id);
          }}
        />
      ) : (
        <Do onClick={() => setAsking(true)}>Another from a day</Do>
      )}
      {made > 0 && <RerateOffer rate={made} />}
    </section>
  );
}

interface FormProps {
  person?: string;
  title: string;
  /** There are rates already. */
  begun: boolean;
  onKeep: () => void;
  /** Given the rate that is billed, or 0. */
  onDone: (billed: number) => void;
}

function RateForm({ person, title, begun, onKeep, onDone }: FormProps) {
  const acts = useRecordActs("rates");
  const form = useTyping({ bill: "", cost: "", from: "" });
  const { bill, cost, from } = form.typed;
  const other = person ? "as the grade or the firm" : "no rate";
  const keep = async () => {
    onKeep();
    let billed = 0;
    for (const kind of ["bill", "cost"] as const) {
      const per_hour = kind === "bill" ? bill : cost;
      if (!per_hour) continue;
      const made = await acts.add.mutateAsync({ ...(person ? { person } : {}), kind, per_hour, from });
      // Who is new has recorded nothing that could be valued anew.
      if (kind === "bill" && (begun || from || !person)) billed = made.id;
      form.set({ [kind]: "" });
    }
    onDone(billed);
  };
  return (
    <Form
      label={`Rates: ${title}`}
      act={acts.add}
      ok="Keep the rates"
      ready={Boolean(bill || cost)}
      onOk={() => keep().catch(() => {})}
    >
      <TextField of={form} name="bill" label="It is billed at" as="amount" placeholder={other} />
      <TextField of={form} name="cost" label="It costs us" as="amount" placeholder={other} />
      <TextField of={form} name="from" label="From" as="day" placeholder={begun ? "today" : "from ever"} />
    </Form>
  );
}

/** A rate that holds from a day gone by changes nothing that is recorded: its time can be valued anew, at once. */
export function RerateOffer({ rate }: { rate: number }) {
  const { today, role } = useSession();
  const sheet = useSheet("rates", rate);
  const said = (name: string) => sheet.data?.values.find((value) => value.name === name)?.value ?? "";
  const from = said("from");
  // What an hour costs us values nothing that is billed.
  if (role !== "administrator" || said("kind") !== "bill" || !from || from >= today) return null;
  return (
    <p role="status">
      Unbilled time since {long(from)} keeps the rate at which it was recorded.{" "}
      <Link to={`/time/list?from=${from}&states=unbilled&rerate=yes`}>Re-rate it</Link>
    </p>
  );
}
