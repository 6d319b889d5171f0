import { Checkbox, Input } from "antd";
import { Pick } from "../../frame/pick";
import pricingCss from "./pricing.module.css";
import type { TypedLine } from "./use-proposal";

interface Props {
  line: TypedLine;
  said: string;
  onSay: (when: string) => void;
}

const moments = [
  "on acceptance",
  "on 1 Mar 2027",
  "when it is delivered",
  "by hand",
  "as worked",
  "each week",
  "each month",
  "each quarter",
  "every 6 months",
  "each year",
];

const same = (words: string) => ({ value: words, label: words });

/** When it is billed, by choosing: every choice writes the words that could be typed. */
export function RuleChoice({ line, onSay }: Props) {
  const parts = line.when.split(", ");
  const head = parts[0] ?? "";
  const recurring = /^(each|every)/.test(head);
  const has = (part: string) => parts.includes(part);
  const say = (next: string[]) => onSay(next.filter(Boolean).join(", "));
  const without = (pattern: RegExp) => parts.filter((part) => !pattern.test(part));
  const box = (part: string, said = part) => (
    <Checkbox
      checked={has(part)}
      onChange={(event) => say(event.target.checked ? [...parts, part] : parts.filter((p) => p !== part))}
    >
      {said}
    </Checkbox>
  );
  const day = parts.find((part) => part.startsWith("on the "))?.replace(/\D/g, "") ?? "";
  const times = parts.find((part) => / times$/.test(part))?.replace(/\D/g, "") ?? "";
  return (
    <fieldset className={pricingCss.ruleChoice}>
      <legend>Billed</legend>
      <Pick
        variant="underlined"
        size="middle"
        label="Billed"
        value={head}
        choices={[...new Set([head, ...moments])].map(same)}
        onChange={(moment) => say(/^(each|every)/.test(moment) && recurring ? [moment, ...parts.slice(1)] : [moment])}
      />
      {recurring && (
        <>
          <Pick
            variant="underlined"
            size="middle"
            label="At which end of the period"
            value={has("in arrears") ? "in arrears" : "in advance"}
            choices={["in advance", "in arrears"].map(same)}
            onChange={(end) => say([head, end, ...without(/^in a/).slice(1)])}
          />
          <label>
            on the
            <Short
              label="Day of the bill"
              value={day}
              placeholder="its own"
              onChange={(to) => say([...without(/^on the /), to && `on the ${to}`])}
            />
          </label>
          <label>
            <Short
              label="How many times"
              value={times}
              placeholder="no end"
              onChange={(to) => say([...without(/ times$|^until/), to && `${to} times`])}
            />
            times
          </label>
          {box("first one prorated")}
          {box("until the end of the term")}
          {box("by hand", "bills made by hand")}
        </>
      )}
      {box("paused at first")}
    </fieldset>
  );
}

interface ShortProps {
  label: string;
  value: string;
  placeholder: string;
  onChange: (value: string) => void;
}

/** A few characters, which count when they are left. */
function Short({ label, value, placeholder, onChange }: ShortProps) {
  return (
    <Input
      key={value}
      variant="underlined"
      className={pricingCss.shortField}
      aria-label={label}
      defaultValue={value}
      placeholder={placeholder}
      onBlur={(event) => event.target.value !== value && onChange(event.target.value)}
    />
  );
}
