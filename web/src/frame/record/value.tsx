import { Input } from "antd";
import { clsx } from "clsx";
import { type KeyboardEvent, useState } from "react";
import { long } from "../days";
import { Do } from "../do";
import { Explained } from "../explain";
import formCss from "../form/form.module.css";
import { readAs, Said, useSaid } from "../form/use-said";
import { Pick } from "../pick";
import { ChoosePeople, ChooseRecord } from "./choose";
import type { Value } from "./use-record";

interface Props {
  value: Value;
  /** What the record belongs to, for choosing its like. */
  of: number;
  readOnly: boolean;
  problem?: string;
  onSave: (text: string) => Promise<unknown>;
  onGiveBack: () => void;
}

/** One line of a record: its label and what stands there; clicked, it is typed in place. */
export function RecordValue({ value, of, readOnly, problem, onSave, onGiveBack }: Props) {
  const [editing, setEditing] = useState(false);
  const locked = readOnly || value.locked;
  const save = async (text: string) => {
    if (text === value.value) {
      setEditing(false);
      return;
    }
    await onSave(text);
    setEditing(false);
  };
  return (
    <div className={problem ? clsx("wrong", formCss.value) : formCss.value}>
      <dt>{value.label}</dt>
      <dd>
        {editing ? (
          <Control
            value={value}
            of={of}
            onDone={(text) => save(text).catch(() => {})}
            onLeave={() => setEditing(false)}
          />
        ) : (
          <Shown value={value} locked={locked} onEdit={() => setEditing(true)} />
        )}
        {value.inherited && !editing && (
          <span className={formCss.from}>
            {value.steps ? (
              <Explained step={value.steps} label={`where ${value.label} comes from`}>
                {value.own ? "its own" : value.from}
              </Explained>
            ) : (
              value.from
            )}
            {value.own && !locked && (
              <Do aria-label={`Give back ${value.label}`} onClick={onGiveBack}>
                Give back
              </Do>
            )}
          </span>
        )}
        {editing && value.hint && <span className={formCss.hint}>{value.hint}</span>}
        {problem && <span className="refusal">{problem}</span>}
      </dd>
    </div>
  );
}

const shownText = (value: Value) => (value.form === "day" ? long(value.value) : value.shown);

function Shown({ value, locked, onEdit }: { value: Value; locked: boolean; onEdit: () => void }) {
  const text = shownText(value);
  const classes = clsx(formCss.valueShown, value.inherited && !value.own && formCss.inherited);
  if (locked) return <span className={classes}>{text || <span className="soft">–</span>}</span>;
  return (
    <button type="button" className={classes} aria-label={`${value.label}: ${text || "empty"}`} onClick={onEdit}>
      {text || <span className="soft">–</span>}
    </button>
  );
}

interface ControlProps {
  value: Value;
  of: number;
  onDone: (text: string) => void;
  onLeave: () => void;
}

function Control({ value, of, onDone, onLeave }: ControlProps) {
  switch (value.form) {
    case "choice":
    case "yes_no":
      return <ChooseOne value={value} onDone={onDone} onLeave={onLeave} />;
    case "record":
    case "tax_code":
    case "rate_card":
    case "picture":
    case "enclosure":
      return (
        <ChooseRecord
          kind={value.of ?? ""}
          of={value.of === "phases" ? of : 0}
          label={value.label}
          value={value.value}
          open
          onChoose={onDone}
          onLeave={onLeave}
        />
      );
    case "records":
      return <ChoosePeople label={value.label} value={value.value} onDone={onDone} />;
  }
  return <Typed value={value} onDone={onDone} onLeave={onLeave} />;
}

const yesOrNo = [
  { value: "yes", label: "yes" },
  { value: "no", label: "no" },
];

function ChooseOne({ value, onDone, onLeave }: Omit<ControlProps, "of">) {
  const options = value.form === "yes_no" ? yesOrNo : (value.options ?? []);
  return (
    <Pick
      className={formCss.choose}
      size="middle"
      autoFocus
      defaultOpen
      label={value.label}
      value={value.value}
      onChange={onDone}
      onBlur={onLeave}
      choices={options}
    />
  );
}

/** A typed value: Enter keeps it, Esc leaves what was there; of several lines Ctrl Enter. */
function Typed({ value, onDone, onLeave }: Omit<ControlProps, "of">) {
  const [text, setText] = useState(value.value);
  const said = useSaid(readAs(value.form), text === value.value ? "" : text);
  const many = value.form === "lines";
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape") {
      event.stopPropagation();
      onLeave();
    } else if (event.key === "Enter" && (!many || event.ctrlKey)) onDone(text);
  };
  const field = {
    autoFocus: true,
    "aria-label": value.label,
    value: text,
    onKeyDown,
    onBlur: () => onDone(text),
    onFocus: (event: { target: { select: () => void } }) => event.target.select(),
  };
  if (many)
    return (
      <Input.TextArea {...field} autoSize={{ minRows: 2, maxRows: 8 }} onChange={(e) => setText(e.target.value)} />
    );
  return (
    <>
      <Input {...field} onChange={(e) => setText(e.target.value)} />
      {said && (
        <span className={formCss.hint}>
          <Said {...said} />
        </span>
      )}
    </>
  );
}
