import { Checkbox, Input, Select } from "antd";
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

/** When it is billed, by choosing: every choice writes the words that could be typed. */
export function RuleChoice({ line, onSay }: Props) {
  const parts = line.when.split(", ");
  const head = parts[0] ?? "";
  const recurring = /^(each|every)/.test(head);
  const has = (part: string) => parts.includes(part);
  const say = (next: string[]) => onSay(next.filter(Boolean).join(", "));
  const without = (pattern: RegExp) => parts.filter((part) => !pattern.test(part));
  const toggle = (part: string, on: boolean) => say(on ? [...parts, part] : parts.filter((p) => p !== part));
  const day = parts.find((part) => part.startsWith("on the "))?.replace(/\D/g, "") ?? "";
  const times = parts.find((part) => / times$/.test(part))?.replace(/\D/g, "") ?? "";
  return (
    <fieldset className={pricingCss.ruleChoice}>
      <legend>Billed</legend>
      <Select
        variant="underlined"
        aria-label="Billed"
        value={head}
        popupMatchSelectWidth={false}
        options={[...new Set([head, ...moments])].map((moment) => ({ value: moment, label: moment, title: moment }))}
        onChange={(moment) => say(/^(each|every)/.test(moment) && recurring ? [moment, ...parts.slice(1)] : [moment])}
      />
      {recurring && (
        <>
          <Select
            variant="underlined"
            aria-label="At which end of the period"
            value={has("in arrears") ? "in arrears" : "in advance"}
            options={["in advance", "in arrears"].map((end) => ({ value: end, label: end, title: end }))}
            onChange={(end) => say([head, end, ...without(/^in a/).slice(1)])}
          />
          <label>
            on the
            <Input
              key={`day${day}`}
              variant="underlined"
              className={pricingCss.shortField}
              aria-label="Day of the bill"
              defaultValue={day}
              placeholder="its own"
              onBlur={(event) =>
                event.target.value !== day &&
                say([...without(/^on the /), event.target.value && `on the ${event.target.value}`])
              }
            />
          </label>
          <label>
            <Input
              key={`times${times}`}
              variant="underlined"
              className={pricingCss.shortField}
              aria-label="How many times"
              defaultValue={times}
              placeholder="no end"
              onBlur={(event) =>
                event.target.value !== times &&
                say([...without(/ times$|^until/), event.target.value && `${event.target.value} times`])
              }
            />
            times
          </label>
          <Checkbox
            checked={has("first one prorated")}
            onChange={(e) => toggle("first one prorated", e.target.checked)}
          >
            first one prorated
          </Checkbox>
          <Checkbox
            checked={has("until the end of the term")}
            onChange={(e) => toggle("until the end of the term", e.target.checked)}
          >
            until the end of the term
          </Checkbox>
          <Checkbox checked={has("by hand")} onChange={(e) => toggle("by hand", e.target.checked)}>
            bills made by hand
          </Checkbox>
        </>
      )}
      <Checkbox checked={has("paused at first")} onChange={(e) => toggle("paused at first", e.target.checked)}>
        paused at first
      </Checkbox>
    </fieldset>
  );
}
