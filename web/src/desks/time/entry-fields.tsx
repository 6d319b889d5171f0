import { clsx } from "clsx";
import dayjs from "dayjs";
import { useState } from "react";
import type { Problem, Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { isoDay } from "../../frame/days";
import { CheckField, ChoiceField, DayField, TextField } from "../../frame/form/fields";
import { FieldGroup } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import type { Typing } from "../../frame/form/use-typing";
import { useSettled } from "../../frame/use-settled";
import { Attachments, useEntryFiles } from "./attachments";
import type { Edit } from "./use-cells";
import { type Entry, type TypedEntry, useChoices, useEngagement, useWorth } from "./use-week";
import { treatmentsFor } from "./words";

type Typed = Edit["typed"];

interface Props {
  typed: Typed;
  entry?: Entry;
  /** As it would be saved. */
  body?: TypedEntry;
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
      typed.until ||
      typed.rateFrom ||
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
  const { typed, entry, phases, problem, readOnly, onChange, onCommit } = props;
  const [more, setMore] = useState(saysMore(typed, entry));
  const of = { typed, set: onChange };
  const choices = useChoices();
  const billable = useEngagement(props.body?.engagementId)?.billable ?? true;
  const own = withOwn(phases, entry).map((p) => ({ value: p.id, label: p.name }));
  return (
    <FieldGroup id="entry" problem={problem} readOnly={readOnly} onEnter={onCommit}>
      <TextField of={of} name="text" label="Text on the invoice" wide />
      <TextField of={of} name="note" label="Note for us" wide />
      <TextField of={of} name="worked" label="Worked" as="hours" />
      <TextField of={of} name="notBillable" label="Not billable of it" as="hours" placeholder="0:00" />
      {own.length > 0 && (
        <ChoiceField
          of={{ typed, set: ({ phaseId }: { phaseId?: number | null }) => onChange({ phaseId: phaseId ?? 0 }) }}
          name="phaseId"
          label="Phase or task"
          options={own}
          clears
          wide
        />
      )}
      {choices.data?.treats !== false && (
        <ChoiceField
          of={of}
          name="treatment"
          label="How it is billed"
          called="How this entry is billed"
          options={treatmentsFor(billable, "the engagement")}
          wide
        />
      )}
      {(choices.data?.fields ?? []).map((field) => (
        <OwnField key={field.id} field={field} of={of} entry={entry} />
      ))}
      {more ? (
        <MoreFields of={of} body={props.body} entry={entry} readOnly={readOnly} />
      ) : (
        <button type="button" className={clsx("link", formCss.wide)} onClick={() => setMore(true)}>
          From and to, price, hold, files…
        </button>
      )}
    </FieldGroup>
  );
}

interface OwnProps {
  field: Schema["OwnField"];
  of: Typing<Typed>;
  entry?: Entry;
}

/** A field of the firm's own. */
function OwnField({ field, of, entry }: OwnProps) {
  const own = {
    typed: { value: of.typed.own?.[field.name] ?? entry?.own[field.id] ?? "" },
    set: ({ value }: { value?: string }) => of.set({ own: { ...of.typed.own, [field.name]: value ?? "" } }),
  };
  const options = field.form === "yes_no" ? ["yes", "no"] : field.choices;
  if (options.length > 0)
    return (
      <ChoiceField
        of={own}
        name="value"
        label={field.name}
        options={[{ value: "", label: "–" }, ...options.map((value) => ({ value, label: value }))]}
      />
    );
  if (field.form === "day") return <DayField of={own} name="value" label={field.name} />;
  return <TextField of={own} name="value" label={field.name} />;
}

interface MoreProps {
  of: Typing<Typed>;
  body?: TypedEntry;
  entry?: Entry;
  readOnly: boolean;
}

function MoreFields({ of, body, entry, readOnly }: MoreProps) {
  const { role } = useSession();
  const fitting = useWorth(useSettled(body ?? null, 120), entry?.id);
  const rates = fitting.data?.rates ?? [];
  const until = { typed: of.typed, set: ({ until: day }: Partial<Typed>) => of.set({ until: day || undefined }) };
  // From and to say how long it was.
  const span = { ...of, set: (change: Partial<Typed>) => of.set({ ...change, worked: "" }) };
  const kept = useEntryFiles(entry?.files ? entry.id : 0);
  return (
    <>
      <TextField of={span} name="started" label="From" placeholder="9:15" />
      <TextField of={span} name="ended" label="To" placeholder="10:45" />
      <DayField of={until} name="until" label="Its last day" any="the same day" />
      <TextField of={of} name="expected" label="Expected" as="hours" placeholder="0:00" />
      <TextField of={of} name="reference" label="Reference" />
      {(role === "administrator" || role === "lead") && (
        <>
          {rates.length > 1 && (
            <ChoiceField
              of={of}
              name="rateFrom"
              label="Rate from"
              options={[
                { value: "", label: "the most specific" },
                ...rates.map((rate) => ({ value: rate.from, label: `${rate.words}, ${rate.perHour}` })),
              ]}
              wide
            />
          )}
          <TextField of={of} name="perHour" label="A rate of its own" placeholder="the one that holds" />
          <TextField of={of} name="markup" label="Mark-up, %" placeholder="none; −10 lowers" />
          <TextField of={of} name="flat" label="Flat amount" as="amount" placeholder="hours × rate" />
          <CheckField
            of={of}
            name="returns"
            label="On every bill"
            beside="comes back"
            called="Comes back on every bill"
            disabled={!of.typed.flat}
            why="Only a flat amount comes back: give one first."
          />
        </>
      )}
      <HoldField of={of} />
      <div className={formCss.wide}>
        <Attachments
          files={of.typed.files ?? kept}
          readOnly={readOnly}
          onChange={(files) => of.set({ files })}
          words="Attach a file"
        />
      </div>
    </>
  );
}

const released = "released";

interface HoldProps {
  of: Typing<{ hold?: string }>;
  /** What it says when nothing is chosen. */
  none?: string;
}

/** Whether an entry waits before it is billed. */
export function HoldField({ of, none = "no" }: HoldProps) {
  const { today } = useSession();
  const hold = of.typed.hold ?? "";
  const way = hold === "" || hold === released ? hold : "day";
  const set = ({ way: to = "" }: { way?: string }) =>
    of.set({ hold: to === "day" ? isoDay(dayjs(today).add(1, "month").startOf("month")) : to });
  return (
    <>
      <ChoiceField
        of={{ typed: { way }, set }}
        name="way"
        label="On hold"
        options={[
          { value: "", label: none },
          { value: "day", label: "until a day" },
          { value: released, label: "until released" },
        ]}
      />
      {way === "day" ? <DayField of={of} name="hold" label="Released on" /> : <span />}
    </>
  );
}
