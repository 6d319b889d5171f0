import { Input, Select } from "antd";
import { clsx } from "clsx";
import { type ReactNode, useState } from "react";
import { DayInput } from "./form/day-input";
import dayInputCss from "./form/day-input.module.css";
import { type ReadAs, Said, useSaid } from "./form/use-said";
import { type Choice, Pick } from "./pick";
import sentenceCss from "./sentence.module.css";
import type { Search } from "./use-sought";

/** The filters of a desk, as a sentence that can be read aloud. */
export function Sentence({ children }: { children: ReactNode }) {
  return (
    <search className={sentenceCss.sentence} data-sentence>
      {children}
    </search>
  );
}

interface DayProps {
  label: string;
  value: string;
  onChange: (iso: string) => void;
  alone?: boolean;
}

/** A date in the sentence. */
export const SaidDate = (props: DayProps) => <DayInput look="said" {...props} />;

/** A date in the sentence that can be left open. */
export const SaidAnyDate = (props: DayProps & { any: string }) => <DayInput look="said" {...props} />;

/** One of several, in the sentence. */
export function SaidChoice<T extends string | number>(props: {
  label: string;
  value: T;
  choices: readonly Choice<T>[];
  search?: Search;
  onChange: (value: T) => void;
}) {
  return <Pick className={sentenceCss.said} size="middle" variant="borderless" suffixIcon={null} {...props} />;
}

interface TextProps {
  label: string;
  /** What stands there while it is empty. */
  any?: string;
  value: string;
  /** What it is read as, and shown while it is typed. */
  as?: ReadAs;
  onChange: (text: string) => void;
}

/** A typed part of the sentence; it counts when it is left or Enter is pressed. */
export function SaidText({ label, any, value, as, onChange }: TextProps) {
  const [typed, setTyped] = useState(value);
  const said = useSaid(as, typed === value ? "" : typed);
  return (
    <span className={sentenceCss.saidText}>
      <Input
        key={value}
        className={sentenceCss.said}
        variant="borderless"
        aria-label={label}
        placeholder={any}
        defaultValue={value}
        style={{ width: `${Math.max(4, (value || any || "").length * 0.9 + 1)}ch` }}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={(event) => event.target.value !== value && onChange(event.target.value)}
        onPressEnter={(event) => event.currentTarget.blur()}
      />
      {said && (
        <span className={dayInputCss.said}>
          <Said {...said} />
        </span>
      )}
    </span>
  );
}

/** Several of many, as numbers with commas; none chosen means all of them. */
export function SaidSeveral(props: {
  label: string;
  all: string;
  value: string;
  choices: Choice<string>[];
  search?: Search;
  onChange: (value: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const chosen = props.value ? props.value.split(",") : [];
  const words = chosen.map((v) => props.choices.find((c) => c.value === v)?.label ?? v);
  const said = words.length > 2 ? `${words.slice(0, 2).join(", ")} and ${words.length - 2} more` : words.join(", ");
  return (
    <span className={open ? clsx("open", sentenceCss.saidSeveral) : sentenceCss.saidSeveral}>
      <span aria-hidden>{said || props.all}</span>
      <Select
        mode="multiple"
        variant="borderless"
        suffixIcon={null}
        popupMatchSelectWidth={false}
        aria-label={props.label}
        title={said || props.all}
        placeholder={open ? "type to find" : ""}
        open={open}
        onOpenChange={setOpen}
        value={chosen}
        maxTagCount={0}
        maxTagPlaceholder=""
        showSearch={props.search ?? { optionFilterProp: "label" }}
        options={props.choices.map((choice) => ({ ...choice, title: choice.label }))}
        onChange={(values: string[]) => props.onChange(values.join(","))}
      />
    </span>
  );
}
