import { Input } from "antd";
import { type KeyboardEvent, useRef, useState } from "react";
import type { Schema } from "../../api/client";
import deskCss from "../desk.module.css";
import { DayInput } from "../form/day-input";
import { Field, Form } from "../form/form";
import { readAs, Said, useSaid } from "../form/use-said";
import { Pick } from "../pick";
import { ChooseRecord } from "./choose";
import { type Field as FieldOf, useForm, useOption, useRecordActs } from "./use-record";

interface Props {
  kind: string;
  /** Fields that are known already, and not asked. */
  known?: Record<string, string>;
  /** What it belongs to, where its like are chosen. */
  of?: number;
  /** It stays for the next: ↑ in its first field brings back what was typed last. */
  stays?: boolean;
  onMade: (made: Schema["Added"]) => void;
  onCancel: () => void;
}

/** The smallest path to a new record: the few fields that it can't do without; the rest has its default. */
export function NewRecord({ kind, known = {}, of = 0, stays, onMade, onCancel }: Props) {
  const form = useForm(kind);
  const acts = useRecordActs(kind);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [last, setLast] = useState<{ typed: Record<string, string>; title: string }>();
  const box = useRef<HTMLDivElement>(null);
  if (!form.data) return null;
  const made = (record: Schema["Added"]) => {
    if (stays) {
      setLast({ typed, title: record.title });
      setTyped({});
      box.current?.querySelector("input")?.focus();
    }
    onMade(record);
  };
  const repeat = (event: KeyboardEvent) => {
    const field = event.target;
    if (event.key !== "ArrowUp" || !last || !(field instanceof HTMLInputElement) || field.value !== "") return;
    setTyped(last.typed);
    requestAnimationFrame(() => field.select());
    event.preventDefault();
  };
  const first = form.data.fields.filter((f) => form.data.first.includes(f.name) && !(f.name in known));
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the key is that of the fields in it
    <div ref={box} onKeyDown={repeat}>
      <Form
        label={`New ${form.data.one}`}
        act={acts.add}
        ok={`Make the ${form.data.one}`}
        onOk={() => acts.add.mutate({ ...known, ...typed }, { onSuccess: made })}
        no={last ? "Close" : "Cancel"}
        onNo={onCancel}
      >
        {first.map((field, index) => (
          <NewValue
            key={field.name}
            field={field}
            of={of}
            first={index === 0}
            value={typed[field.name] ?? field.default ?? ""}
            onChange={(text) => setTyped({ ...typed, [field.name]: text })}
          />
        ))}
        <Warning fields={first} typed={{ ...known, ...typed }} />
        {last && <p className="soft">Made “{last.title}”. ↑ in the first field repeats it under another name.</p>}
      </Form>
    </div>
  );
}

/** What should be known before work is made for a client. */
function Warning({ fields, typed }: { fields: FieldOf[]; typed: Record<string, string> }) {
  const asks = fields.some((f) => f.of === "clients") || "client" in typed;
  const chosen = useOption(asks ? "clients" : "", typed.client ?? "");
  if (!chosen?.warning) return null;
  return (
    <p className={deskCss.findingBox}>
      <b>
        {chosen.title} is marked “{chosen.warning}”.
      </b>{" "}
      Ask before work begins.
    </p>
  );
}

interface ValueProps {
  field: FieldOf;
  of: number;
  first: boolean;
  value: string;
  onChange: (text: string) => void;
}

function NewValue({ field, of, first, value, onChange }: ValueProps) {
  const { name, label } = field;
  const Text = field.form === "lines" ? Input.TextArea : Input;
  const [touched, touch] = useState(false);
  const said = useSaid(readAs(field.form), touched ? value : "");
  return (
    <Field label={label} name={name} hint={said ? <Said {...said} /> : field.hint}>
      {field.form === "choice" ? (
        <Pick size="middle" label={label} value={value} onChange={onChange} choices={field.options ?? []} />
      ) : field.form === "record" ? (
        <ChooseRecord
          kind={field.of ?? ""}
          of={field.of === "phases" ? of : 0}
          label={label}
          value={value}
          onChoose={onChange}
        />
      ) : field.form === "day" ? (
        <DayInput look="outlined" label={label} autoFocus={first} any="" value={value} onChange={onChange} />
      ) : (
        <Text
          id={`new-${name}`}
          aria-label={label}
          autoFocus={first}
          value={value}
          onChange={(event: { target: { value: string } }) => {
            touch(true);
            onChange(event.target.value);
          }}
        />
      )}
    </Field>
  );
}
