import { DatePicker, Input, Select } from "antd";
import dayjs from "dayjs";
import type { ReactNode } from "react";
import { isoDay } from "./days";

/** The filters of a desk, as a sentence that can be read aloud. */
export function Sentence({ children }: { children: ReactNode }) {
  return (
    <search className="sentence" data-sentence>
      {children}
    </search>
  );
}

/** A date in the sentence; an ISO date can be typed. */
export function SaidDate({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (iso: string) => void;
}) {
  return (
    <DatePicker
      className="said said-date"
      variant="borderless"
      allowClear={false}
      suffixIcon={null}
      format={["D MMM YYYY", "YYYY-MM-DD"]}
      aria-label={label}
      value={dayjs(value)}
      onChange={(day) => day && onChange(isoDay(day))}
    />
  );
}

interface Choice<T> {
  value: T;
  label: string;
}

/** One of several, in the sentence. */
export function SaidChoice<T extends string | number>(props: {
  label: string;
  value: T;
  choices: Choice<T>[];
  onChange: (value: T) => void;
}) {
  return (
    <Select
      className="said"
      variant="borderless"
      suffixIcon={null}
      showSearch={props.choices.length > 8 ? { optionFilterProp: "label" } : false}
      popupMatchSelectWidth={false}
      aria-label={props.label}
      value={props.value}
      options={props.choices.map((choice) => ({ ...choice, title: choice.label }))}
      onChange={props.onChange}
    />
  );
}

/** A typed part of the sentence; it counts when it is left or Enter is pressed. */
export function SaidText({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
}) {
  return (
    <Input
      key={value}
      className="said said-text"
      variant="borderless"
      aria-label={label}
      defaultValue={value}
      style={{ width: `${Math.max(5, value.length + 2)}ch` }}
      onBlur={(event) => event.target.value !== value && onChange(event.target.value)}
      onPressEnter={(event) => event.currentTarget.blur()}
    />
  );
}
