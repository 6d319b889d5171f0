import { Input, Select, Switch } from "antd";
import { clsx } from "clsx";
import dayjs from "dayjs";
import { useState } from "react";
import type { Problem } from "../../api/client";
import { useSession } from "../../api/session";
import { isoDay } from "../../frame/days";
import { DayField } from "../../frame/form/day-field";
import formCss from "../../frame/form/form.module.css";
import { Attachments, useEntryFiles } from "./attachments";
import type { Edit } from "./use-cells";
import type { Entry } from "./use-week";
import { treatments } from "./words";

type Typed = Edit["typed"];

interface Props {
  typed: Typed;
  entry?: Entry;
  phases: { id: number; name: string }[];
  problem?: Problem;
  readOnly: boolean;
  onChange: (part: Partial<Typed>) => void;
  onCommit: () => void;
}

/** What of an entry is asked less often: those that say something are open from the start. */
const saysMore = (typed: Typed, entry?: Entry) =>
  Boolean(
    typed.started ||
      typed.expected ||
      typed.reference ||
      typed.perHour ||
      typed.markup ||
      typed.flat ||
      typed.hold ||
      typed.files?.length ||
      entry?.files,
  );

/** The phases that can be chosen, with the entry's own, which may be done by now. */
const withOwn = (phases: Props["phases"], entry?: Entry) =>
  entry?.phaseId && !phases.some((p) => p.id === entry.phaseId)
    ? [{ id: entry.phaseId, name: entry.phase }, ...phases]
    : phases;

/** The fields of an entry, the usual ones first. */
export function EntryFields(props: Props) {
  const { typed, entry, phases, problem, readOnly, onChange } = props;
  const [more, setMore] = useState(saysMore(typed, entry));
  const field = fieldsOf(props);
  return (
    <div className={formCss.fields}>
      {problem && (
        <p className={clsx("refusal", formCss.wide)} role="alert">
          {problem.message}
        </p>
      )}
      <label className={formCss.wide} htmlFor="entry-text">
        Text on the invoice
        <Input {...field("text", "Text on the invoice")} variant="underlined" />
      </label>
      <label className={formCss.wide} htmlFor="entry-note">
        Note for us
        <Input {...field("note", "Note for us")} variant="underlined" />
      </label>
      <label htmlFor="entry-worked">
        Worked
        <Input {...field("worked", "Worked")} variant="underlined" />
      </label>
      <label htmlFor="entry-notBillable">
        Not billable of it
        <Input {...field("notBillable", "Not billable of it")} variant="underlined" placeholder="0:00" />
      </label>
      {withOwn(phases, entry).length > 0 && (
        <label className={formCss.wide} htmlFor="entry-phase">
          Phase or task
          <Select
            id="entry-phase"
            aria-label="Phase or task"
            variant="underlined"
            disabled={readOnly}
            allowClear
            value={typed.phaseId || undefined}
            onChange={(phaseId?: number) => onChange({ phaseId: phaseId ?? 0 })}
            options={withOwn(phases, entry).map((p) => ({ value: p.id, label: p.name, title: p.name }))}
          />
        </label>
      )}
      <label className={formCss.wide} htmlFor="entry-treatment">
        How it is billed
        <Select
          id="entry-treatment"
          aria-label="How this entry is billed"
          variant="underlined"
          disabled={readOnly}
          value={typed.treatment}
          onChange={(treatment) => onChange({ treatment })}
          options={treatments.map((t) => ({ ...t, title: t.label }))}
        />
      </label>
      {more ? (
        <MoreFields typed={typed} entry={entry} readOnly={readOnly} field={field} onChange={onChange} />
      ) : (
        <button type="button" className={clsx("link", formCss.wide)} onClick={() => setMore(true)}>
          From and to, price, hold, files…
        </button>
      )}
    </div>
  );
}

/** The properties of a text field of an entry. */
function fieldsOf({ typed, problem, readOnly, onChange, onCommit }: Props) {
  return (name: keyof Typed, label: string) => ({
    id: `entry-${name}`,
    "aria-label": label,
    value: (typed[name] as string | undefined) ?? "",
    readOnly,
    status: problem?.field === name ? ("error" as const) : undefined,
    onChange: (event: { target: { value: string } }) => onChange({ [name]: event.target.value }),
    onPressEnter: onCommit,
  });
}

interface MoreProps {
  typed: Typed;
  entry?: Entry;
  readOnly: boolean;
  field: ReturnType<typeof fieldsOf>;
  onChange: (part: Partial<Typed>) => void;
}

function MoreFields({ typed, entry, readOnly, field, onChange }: MoreProps) {
  const { role } = useSession();
  const span = (name: "started" | "ended", label: string) => ({
    ...field(name, label),
    onChange: (event: { target: { value: string } }) => onChange({ [name]: event.target.value, worked: "" }),
  });
  const kept = useEntryFiles(entry?.files ? entry.id : 0);
  return (
    <>
      <label htmlFor="entry-started">
        From
        <Input {...span("started", "From")} variant="underlined" placeholder="9:15" />
      </label>
      <label htmlFor="entry-ended">
        To
        <Input {...span("ended", "To")} variant="underlined" placeholder="10:45" />
      </label>
      <label htmlFor="entry-expected">
        Expected
        <Input {...field("expected", "Expected")} variant="underlined" placeholder="0:00" />
      </label>
      <label htmlFor="entry-reference">
        Reference
        <Input {...field("reference", "Reference")} variant="underlined" />
      </label>
      {(role === "administrator" || role === "lead") && (
        <PriceFields typed={typed} readOnly={readOnly} field={field} onChange={onChange} />
      )}
      <HoldField typed={typed} readOnly={readOnly} onChange={onChange} />
      <div className={formCss.wide}>
        <Attachments
          files={typed.files ?? kept}
          readOnly={readOnly}
          onChange={(files) => onChange({ files })}
          words="Attach a file"
        />
      </div>
    </>
  );
}

/** What an entry is priced at by itself. */
function PriceFields({ typed, readOnly, field, onChange }: Omit<MoreProps, "entry">) {
  return (
    <>
      <label htmlFor="entry-perHour">
        A rate of its own
        <Input {...field("perHour", "A rate of its own")} variant="underlined" placeholder="the one that holds" />
      </label>
      <label htmlFor="entry-markup">
        Mark-up, %
        <Input {...field("markup", "Mark-up, %")} variant="underlined" placeholder="none; −10 lowers" />
      </label>
      <label htmlFor="entry-flat">
        Flat amount
        <Input {...field("flat", "Flat amount")} variant="underlined" placeholder="hours × rate" />
      </label>
      <label htmlFor="entry-returns" className={formCss.switchField}>
        On every bill
        <Switch
          id="entry-returns"
          size="small"
          aria-label="Comes back on every bill"
          disabled={readOnly || !typed.flat}
          checked={typed.returns ?? false}
          onChange={(returns) => onChange({ returns })}
        />
      </label>
    </>
  );
}

const released = "released";

/** Whether an entry waits before it is billed. */
export function HoldField({
  typed,
  none = "no",
  readOnly,
  onChange,
}: {
  typed: { hold?: string };
  /** What it says when nothing is chosen. */
  none?: string;
  readOnly: boolean;
  onChange: (part: { hold: string }) => void;
}) {
  const { today } = useSession();
  const hold = typed.hold ?? "";
  const way = hold === "" || hold === released ? hold : "day";
  return (
    <>
      <label htmlFor="entry-hold">
        On hold
        <Select
          id="entry-hold"
          aria-label="On hold"
          variant="underlined"
          disabled={readOnly}
          value={way}
          onChange={(to) =>
            onChange({ hold: to === "day" ? isoDay(dayjs(today).add(1, "month").startOf("month")) : to })
          }
          options={[
            { value: "", label: none, title: none },
            { value: "day", label: "until a day", title: "until a day" },
            { value: released, label: "until released", title: "until released" },
          ]}
        />
      </label>
      {way === "day" ? (
        <label htmlFor="entry-hold-until">
          Released on
          <DayField
            id="entry-hold-until"
            label="Released on"
            disabled={readOnly}
            value={hold}
            onChange={(day) => onChange({ hold: day })}
          />
        </label>
      ) : (
        <span />
      )}
    </>
  );
}
