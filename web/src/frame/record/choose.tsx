import { Select } from "antd";
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
  /** What becomes of a name that is not there yet, in place of making a record of it now. */
  onNew?: (name: string) => void;
  onLeave?: () => void;
}

/** Stands in the list for what is typed and not there yet. */
const fresh = " new";

/** Chooses a record by its name or key; one that is not there yet can be made in place. */
export function ChooseRecord({ kind, of = 0, label, value, id, open, underlined, onChoose, onNew, onLeave }: Props) {
  const options = useOptions(kind, { of, has: value });
  const acts = useRecordActs(kind);
  const [typed, setTyped] = useState("");
  const { onSearch, filterOption } = options.search;
  const name = typed.trim();
  const make = () =>
    onNew ? onNew(name) : acts.add.mutate({ name }, { onSuccess: (made) => onChoose(made.key), onError: () => {} });
  const there = (options.data ?? []).map((o) => ({ value: o.key, label: labelOf(o.key, o.title), title: o.title }));
  const known = there.some((o) => o.title.toLowerCase() === name.toLowerCase());
  // Known ones come first; making one more is a choice of its own, never by accident.
  const choices =
    name && !known && madeByName.has(kind) ? [...there, { value: fresh, label: `New: “${name}”`, title: name }] : there;
  return (
    <>
      <Select
        id={id}
        className={formCss.choose}
        autoFocus={open}
        defaultOpen={open}
        allowClear
        showSearch={{
          onSearch: (text) => {
            setTyped(text);
            onSearch(text);
          },
          filterOption: filterOption && ((input, option) => option?.value === fresh || filterOption(input, option)),
        }}
        popupMatchSelectWidth={false}
        placeholder="Choose…"
        variant={underlined ? "underlined" : "outlined"}
        aria-label={label}
        value={value || undefined}
        onChange={(key?: string) => (key === fresh ? make() : onChoose(key ?? ""))}
        onBlur={onLeave}
        options={choices}
        notFoundContent={<span className="soft">Nothing of that name</span>}
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
      showSearch={options.search}
      options={(options.data ?? []).map((o) => ({ value: o.key, label: o.title, title: o.title }))}
    />
  );
}
