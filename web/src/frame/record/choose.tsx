import { Button, Select } from "antd";
import { useState } from "react";
import formCss from "../form/form.module.css";
import { Refused } from "../state";
import { useOptions, useRecordActs } from "./use-record";

/** Kinds of which one can be made from its name alone, while choosing one. */
const madeByName = new Set(["clients", "grades", "offices", "services", "client-statuses", "rate-cards"]);

interface Props {
  kind: string;
  /** What the choices belong to, or 0. */
  of?: number;
  label: string;
  value: string;
  id?: string;
  open?: boolean;
  underlined?: boolean;
  onChoose: (key: string) => void;
  onLeave?: () => void;
}

/** Chooses a record by its name or key; one that is not there yet can be made in place. */
export function ChooseRecord({ kind, of = 0, label, value, id, open, underlined, onChoose, onLeave }: Props) {
  const options = useOptions(kind, of);
  const acts = useRecordActs(kind);
  const [typed, setTyped] = useState("");
  const make = () =>
    acts.add.mutate({ name: typed.trim() }, { onSuccess: (made) => onChoose(made.key), onError: () => {} });
  return (
    <>
      <Select
        id={id}
        className={formCss.choose}
        autoFocus={open}
        defaultOpen={open}
        allowClear
        showSearch={{ optionFilterProp: "label", onSearch: setTyped }}
        popupMatchSelectWidth={false}
        placeholder="Choose…"
        variant={underlined ? "underlined" : "outlined"}
        aria-label={label}
        value={value || undefined}
        onChange={(key?: string) => onChoose(key ?? "")}
        onBlur={onLeave}
        options={(options.data ?? []).map((o) => ({ value: o.key, label: labelOf(o.key, o.title), title: o.title }))}
        notFoundContent={
          madeByName.has(kind) && typed.trim() ? (
            <Button type="text" size="small" onMouseDown={(event) => event.preventDefault()} onClick={make}>
              Make “{typed.trim()}”
            </Button>
          ) : (
            <span className="soft">Nothing of that name</span>
          )
        }
      />
      <Refused by={acts.add.error} />
    </>
  );
}

/** A key that is a number is for the program; a code is read beside the title. */
const labelOf = (key: string, title: string) => (key === title || /^\d+$/.test(key) ? title : `${title} · ${key}`);

/** Chooses people by their initials. */
export function ChoosePeople({ label, value, onDone }: { label: string; value: string; onDone: (v: string) => void }) {
  const options = useOptions("people");
  const [chosen, setChosen] = useState(value.split(" ").filter(Boolean));
  return (
    <Select
      mode="multiple"
      className={formCss.choose}
      autoFocus
      defaultOpen
      aria-label={label}
      value={chosen}
      onChange={setChosen}
      onBlur={() => onDone(chosen.join(" "))}
      showSearch={{ optionFilterProp: "label" }}
      options={(options.data ?? []).map((o) => ({ value: o.key, label: o.title, title: o.title }))}
    />
  );
}
