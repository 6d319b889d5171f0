import { Input, type InputRef, Popover } from "antd";
import { clsx } from "clsx";
import { lazy, type Ref, Suspense, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { api } from "../../api/client";
import { long } from "../days";
import sentenceCss from "../sentence.module.css";
import dayInputCss from "./day-input.module.css";
import { useSaid } from "./use-said";

const Calendar = lazy(() => import("./calendar"));

interface Props {
  label: string;
  /** A day as ISO writes it, or nothing. */
  value: string;
  onChange: (iso: string) => void;
  /** What stands there while there is no day; without, it can't be left empty. */
  any?: string;
  /** In a form, in a folio, in a cell, or in a sentence. */
  look?: keyof typeof looks;
  /** Enter keeps the day, and sends no form in which it stands. */
  alone?: boolean;
  id?: string;
  disabled?: boolean;
  autoFocus?: boolean;
  ref?: Ref<InputRef>;
}

const looks = {
  outlined: dayInputCss.lookOutlined,
  underlined: dayInputCss.lookUnderlined,
  borderless: dayInputCss.lookBorderless,
  said: dayInputCss.lookSaid,
};

/**
 * A day, typed as people type it: 30 nov, 15.11., +30d, eom, fri. What was read stands under the field while it is
 * typed; what can't be read stays, marked, with an example. A calendar is beside it.
 */
export function DayInput({ label, value, onChange, any, look = "underlined", alone, disabled, ...field }: Props) {
  const [typed, setTyped] = useState<string>();
  const [problem, setProblem] = useState("");
  const [choosing, setChoosing] = useState(false);
  const keeping = useRef<Promise<boolean>>(undefined); // Enter and leaving the field are one
  const read = useSaid("day", typed);
  /** Keeps what is typed, and tells whether it could be read. */
  const keep = () => {
    keeping.current ??= kept().finally(() => {
      keeping.current = undefined;
    });
    return keeping.current;
  };
  const kept = async () => {
    if (typed === undefined) return true;
    const text = typed.trim();
    if (text === "" || text === long(value)) {
      setTyped(undefined);
      setProblem("");
      if (text === "" && any !== undefined && value !== "") onChange("");
      return true;
    }
    try {
      const { value: day } = await api.get("/api/typed", { query: { as: "day", typed: text } });
      setTyped((now) => (now?.trim() === text ? undefined : now));
      setProblem("");
      if (day !== value) flushSync(() => onChange(day)); // the form that is sent next has this day
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return false;
    }
  };
  const said = problem || read?.said;
  const shown = typed ?? (value ? long(value) : "");
  return (
    <span className={clsx(dayInputCss.dayInput, looks[look])}>
      <Input
        {...field}
        form={alone ? "" : undefined}
        className={look === "said" ? sentenceCss.said : undefined}
        variant={look === "said" ? "borderless" : look}
        style={look === "said" ? { width: `${Math.max(4, (shown || any || "").length * 0.9 + 1)}ch` } : undefined}
        aria-label={label}
        aria-invalid={problem ? true : undefined}
        placeholder={any}
        disabled={disabled}
        value={shown}
        onFocus={(event) => event.target.select()}
        onChange={(event) => {
          setTyped(event.target.value);
          setProblem("");
        }}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === "Enter") {
            if (typed === undefined) return;
            const { form } = event.currentTarget;
            keep().then((read) => read && setTimeout(() => form?.requestSubmit())); // with the day that was read
          } else if (event.key === "Escape" && typed !== undefined) {
            setTyped(undefined);
            setProblem("");
            event.stopPropagation();
          } else if (event.key === "ArrowDown" && event.altKey) setChoosing(true);
          else return;
          event.preventDefault();
        }}
      />
      {!disabled && (
        <Popover
          trigger="click"
          open={choosing}
          onOpenChange={setChoosing}
          destroyOnHidden
          content={
            <Suspense fallback={null}>
              <Calendar
                value={value}
                onChange={(iso) => {
                  setChoosing(false);
                  setTyped(undefined);
                  setProblem("");
                  onChange(iso);
                }}
              />
            </Suspense>
          }
        >
          <button type="button" className={dayInputCss.calendar} tabIndex={-1} aria-label={`${label}: calendar`}>
            ▾
          </button>
        </Popover>
      )}
      {said && (
        <span className={problem || read?.wrong ? clsx("lost", dayInputCss.said) : dayInputCss.said} role="status">
          {said}
        </span>
      )}
    </span>
  );
}
