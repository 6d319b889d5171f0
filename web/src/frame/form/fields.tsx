import { Checkbox, Input } from "antd";
import { useState } from "react";
import { Pick } from "../pick";
import { ChooseRecord } from "../record/choose";
import type { Search } from "../use-sought";
import { DayInput } from "./day-input";
import { Field, useAround } from "./form";
import formCss from "./form.module.css";
import { type ReadAs, Said, useSaid } from "./use-said";
import type { NamesOf, Typing } from "./use-typing";

interface Of<T, V> {
  of: Typing<T>;
  name: NamesOf<T, V>;
  label: string;
  /** What it is called where the label alone would not tell it from another. */
  called?: string;
  hint?: string;
  focus?: boolean;
  wide?: boolean;
  className?: string;
}

const only = <T,>(name: keyof T, value: unknown) => ({ [name]: value }) as Partial<T>;

/** What a control has from its field and from the form around it. */
function useControl({ name, label, called, focus }: { name: string; label: string; called?: string; focus?: boolean }) {
  const { id, readOnly, look, size } = useAround();
  return {
    id: id && `${id}-${name}`,
    "aria-label": called ?? label,
    autoFocus: focus,
    variant: look,
    size,
    disabled: readOnly,
  };
}

interface TextProps<T> extends Of<T, string> {
  /** What it is read as: what was read stands under it while it is typed. */
  as?: ReadAs;
  /** So many rows at least, where it may have several. */
  rows?: number;
  placeholder?: string;
  type?: "password" | "email";
  autoComplete?: string;
}

/** A line of text, or several; an amount, hours, terms or a schedule. */
export function TextField<T>(props: TextProps<T>) {
  const { of, name, label, hint, wide, className, as, rows, type, placeholder, autoComplete } = props;
  const { disabled: readOnly, ...control } = useControl(props);
  const { onEnter } = useAround();
  const value = (of.typed[name] as string | undefined) ?? "";
  const [touched, touch] = useState(false);
  const said = useSaid(as, touched ? value : "");
  const field = {
    ...control,
    value,
    placeholder,
    autoComplete,
    readOnly,
    onPressEnter: onEnter,
    onChange: (event: { target: { value: string } }) => {
      touch(true);
      of.set(only(name, event.target.value));
    },
  };
  return (
    <Field label={label} name={name} hint={said ? <Said {...said} /> : hint} wide={wide} className={className}>
      {rows ? (
        <Input.TextArea {...field} autoSize={{ minRows: rows, maxRows: 14 }} />
      ) : type === "password" ? (
        <Input.Password {...field} />
      ) : (
        <Input {...field} inputMode={type === "email" ? "email" : as === "amount" ? "decimal" : undefined} />
      )}
    </Field>
  );
}

/** A day, as people type it. */
export function DayField<T>(props: Of<T, string> & { any?: string }) {
  const { of, name, label, called, hint, focus, wide, any } = props;
  const { id, disabled, variant = "outlined" } = useControl(props);
  return (
    <Field label={label} name={name} hint={hint} wide={wide}>
      <DayInput
        id={id}
        look={variant}
        label={called ?? label}
        autoFocus={focus}
        disabled={disabled}
        any={any}
        value={(of.typed[name] as string | undefined) ?? ""}
        onChange={(day) => of.set(only(name, day))}
      />
    </Field>
  );
}

interface ChoiceProps<T, V> extends Of<T, V> {
  options: { value: V; label: string }[];
  /** What stands there while nothing is chosen. */
  placeholder?: string;
  /** It can be given up again. */
  clears?: boolean;
  /** How what is typed is found, where not all options are there. */
  search?: Search;
}

/** One of several, found by typing. */
export function ChoiceField<T, V extends string | number | boolean>(props: ChoiceProps<T, V>) {
  const { of, name, label, hint, wide, className, options, placeholder, clears, search } = props;
  const control = useControl(props);
  const value = of.typed[name] as V | undefined;
  return (
    <Field label={label} name={name} hint={hint} wide={wide} className={className}>
      <Pick<V | null>
        {...control}
        label={control["aria-label"]}
        showSearch={search ?? { optionFilterProp: "label" }}
        placeholder={placeholder}
        allowClear={clears}
        value={((placeholder || clears) && !value ? null : value) ?? null}
        choices={options}
        onChange={(chosen) => of.set(only(name, chosen))}
      />
    </Field>
  );
}

interface RecordProps<T> extends Of<T, string> {
  kind: string;
  /** What the choices belong to. */
  within?: number;
  onNew?: (name: string) => void;
}

/** A record by its key; one that is not there yet is made in place. */
export function RecordField<T>({ of, name, label, hint, wide, kind, within, focus, onNew }: RecordProps<T>) {
  const { look } = useAround();
  return (
    <Field label={label} name={name} hint={hint} wide={wide}>
      <ChooseRecord
        kind={kind}
        of={within}
        label={label}
        underlined={look === "underlined"}
        value={of.typed[name] as string}
        onChoose={(key) => of.set(only(name, key))}
        open={focus}
        onNew={onNew}
      />
    </Field>
  );
}

/** Yes or no, said beside its box; under its label where it has something else to say. */
export function CheckField<T>(props: Of<T, boolean> & { beside?: string; disabled?: boolean; why?: string }) {
  const { of, name, label, wide, beside, why } = props;
  const { id, disabled, ...control } = useControl(props);
  const box = (
    <Checkbox
      id={id}
      className={wide ? formCss.wide : undefined}
      aria-label={beside && control["aria-label"]}
      disabled={disabled || props.disabled}
      title={props.disabled ? why : undefined}
      checked={(of.typed[name] as boolean | undefined) ?? false}
      onChange={(event) => of.set(only(name, event.target.checked))}
    >
      {beside ?? label}
    </Checkbox>
  );
  return beside ? (
    <div>
      <span className={formCss.hint}>{label}</span>
      {box}
    </div>
  ) : (
    box
  );
}
