import { Button, Input, Select } from "antd";
import { useState } from "react";
import { Problem, type Schema } from "../../api/client";
import deskCss from "../desk.module.css";
import formCss from "../form/form.module.css";
import { ChooseRecord } from "./choose";
import { type Field, useForm, useOptions, useRecordActs } from "./use-record";

interface Props {
  kind: string;
  /** Fields that are known already, and not asked. */
  known?: Record<string, string>;
  /** What it belongs to, where its like are chosen. */
  of?: number;
  onMade: (made: Schema["Added"]) => void;
  onCancel: () => void;
}

/** The smallest path to a new record: the few fields that it can't do without; the rest has its default. */
export function NewRecord({ kind, known = {}, of = 0, onMade, onCancel }: Props) {
  const form = useForm(kind);
  const acts = useRecordActs(kind);
  const [typed, setTyped] = useState<Record<string, string>>({});
  if (!form.data) return null;
  const first = form.data.fields.filter((f) => form.data.first.includes(f.name) && !(f.name in known));
  const problem = acts.add.error instanceof Problem ? acts.add.error : null;
  const inForm = first.some((f) => f.name === problem?.field);
  return (
    <form
      className={formCss.newRecord}
      aria-label={`New ${form.data.one}`}
      onSubmit={(event) => {
        event.preventDefault();
        acts.add.mutate({ ...known, ...typed }, { onSuccess: onMade });
      }}
    >
      {first.map((field, index) => (
        <label key={field.name} htmlFor={`new-${field.name}`}>
          {field.label}
          <NewValue
            field={field}
            of={of}
            first={index === 0}
            value={typed[field.name] ?? field.default ?? ""}
            onChange={(text) => setTyped({ ...typed, [field.name]: text })}
          />
          {problem?.field === field.name ? (
            <span className="refusal">{problem.message}</span>
          ) : (
            field.hint && <span className={formCss.hint}>{field.hint}</span>
          )}
        </label>
      ))}
      <Warning fields={first} typed={{ ...known, ...typed }} />
      {problem && !inForm && <p className="refusal">{problem.message}</p>}
      <p className={formCss.newActs}>
        <Button type="primary" htmlType="submit" loading={acts.add.isPending}>
          Make the {form.data.one}
        </Button>
        <Button type="text" onClick={onCancel}>
          Cancel
        </Button>
      </p>
    </form>
  );
}

/** What should be known before work is made for a client. */
function Warning({ fields, typed }: { fields: Field[]; typed: Record<string, string> }) {
  const asks = fields.some((f) => f.of === "clients") || "client" in typed;
  const clients = useOptions("clients", 0, asks);
  const chosen = clients.data?.find((c) => c.key === typed.client);
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
  field: Field;
  of: number;
  first: boolean;
  value: string;
  onChange: (text: string) => void;
}

function NewValue({ field, of, first, value, onChange }: ValueProps) {
  const id = `new-${field.name}`;
  if (field.form === "choice")
    return (
      <Select
        id={id}
        aria-label={field.label}
        popupMatchSelectWidth={false}
        value={value}
        onChange={onChange}
        options={(field.options ?? []).map((o) => ({ ...o, title: o.label }))}
      />
    );
  if (field.form === "record")
    return (
      <ChooseRecord
        id={id}
        kind={field.of ?? ""}
        of={field.of === "phases" ? of : 0}
        label={field.label}
        value={value}
        onChoose={onChange}
      />
    );
  if (field.form === "lines")
    return (
      <Input.TextArea
        id={id}
        autoFocus={first}
        autoSize={{ minRows: 2 }}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    );
  return <Input id={id} autoFocus={first} value={value} onChange={(event) => onChange(event.target.value)} />;
}
