import { Input, Select } from "antd";
import dayjs from "dayjs";
import { Link } from "react-router";
import type { Problem } from "../../api/client";
import { useSession } from "../../api/session";
import { Steps } from "../../frame/explain";
import { clock } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { History } from "../../frame/history";
import { useSettled } from "../../frame/use-settled";
import { treatments } from "./add-row";
import { type Edit, type Place, typedOf } from "./use-cells";
import { type Entry, type Treatment, type TypedEntry, useWorth } from "./use-week";

interface Props {
  person: string;
  place: Place | null;
  entries: Entry[];
  entry?: Entry;
  edit?: Edit;
  body?: (typed: Edit["typed"]) => TypedEntry;
  phases: { id: number; name: string }[];
  readOnly: boolean;
  problem?: Error;
  onPlace: (place: Place) => void;
  onChange: (part: Partial<Edit["typed"]>) => void;
  onCommit: () => void;
  onRemove?: () => void;
}

/** The entry at hand: its fields, and what it is worth while it is typed. */
export function EntryFolio(props: Props) {
  const { place, entry, edit, body, person } = props;
  if (!place)
    return (
      <Folio label="Entry">
        <h2>No entry chosen</h2>
        <p className="soft">
          Go to a cell and type the time: 1:30, 1.5 or 90m. Its text, how it is billed and what it is worth stand here.
        </p>
      </Folio>
    );
  const typed = edit?.typed ?? typedOf(entry, place.row.split("-")[2] as Treatment);
  const on = entry && entry.billing !== "unbilled" && entry.billing !== "not_billable";
  return (
    <Folio label="Entry">
      <p className="folio-over">
        {dayjs(place.day).format("dddd D MMMM")}, {person}
      </p>
      <h2>{entry ? `${clock(entry.minutes)} on ${entry.engagement}` : "A new entry"}</h2>
      <EntryChips {...props} place={place} />
      <Fields
        typed={typed}
        phases={props.phases}
        problem={edit?.problem}
        readOnly={props.readOnly || Boolean(on)}
        onChange={props.onChange}
        onCommit={props.onCommit}
      />
      {props.problem && <p className="refusal">{props.problem.message}</p>}
      {on && (
        <p className="finding-box">
          <b>Locked.</b> {entry.invoice ? `Billed on ${entry.invoice}.` : "It is on a draft."}{" "}
          <Link to={`/billing/${entry.invoiceId}`}>Open it</Link>
        </p>
      )}
      {edit ? (
        <LiveWorth typed={body && !edit.problem ? body(typed) : null} />
      ) : (
        entry?.explanation && <Steps of={entry.explanation} />
      )}
      {entry && !on && !props.readOnly && (
        <p>
          <button type="button" className="link lost" onClick={props.onRemove}>
            Remove this entry
          </button>
        </p>
      )}
      {entry && <History subject="time-entries" id={entry.id} />}
    </Folio>
  );
}

/** The entries of a cell that has several, and the offer of another. */
function EntryChips({ place, entries, entry, readOnly, onPlace }: Props & { place: Place }) {
  if (entries.length === 0) return null;
  return (
    <p className="chips">
      {(entries.length > 1 || !entry) &&
        entries.map((e) => (
          <button
            key={e.id}
            type="button"
            className={e.id === entry?.id ? "chip chosen" : "chip"}
            onClick={() => onPlace({ ...place, entryId: e.id })}
          >
            {clock(e.minutes)} {e.text}
          </button>
        ))}
      {!readOnly && (
        <button type="button" className="link" onClick={() => onPlace({ ...place, entryId: 0 })}>
          Another entry
        </button>
      )}
    </p>
  );
}

interface FieldsProps {
  typed: Edit["typed"];
  phases: { id: number; name: string }[];
  problem?: Problem;
  readOnly: boolean;
  onChange: (part: Partial<Edit["typed"]>) => void;
  onCommit: () => void;
}

function Fields({ typed, phases, problem, readOnly, onChange, onCommit }: FieldsProps) {
  const { role } = useSession();
  const field = (name: keyof Edit["typed"], label: string) => ({
    id: `entry-${name}`,
    "aria-label": label,
    value: typed[name],
    readOnly,
    status: problem?.field === name ? ("error" as const) : undefined,
    onChange: (event: { target: { value: string } }) => onChange({ [name]: event.target.value }),
    onPressEnter: onCommit,
  });
  return (
    <div className="fields">
      {problem && (
        <p className="refusal wide" role="alert">
          {problem.message}
        </p>
      )}
      <label className="wide" htmlFor="entry-text">
        Text on the invoice
        <Input {...field("text", "Text on the invoice")} variant="underlined" />
      </label>
      <label className="wide" htmlFor="entry-note">
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
      {phases.length > 0 && (
        <label className="wide" htmlFor="entry-phase">
          Phase or task
          <Select
            id="entry-phase"
            aria-label="Phase or task"
            variant="underlined"
            disabled={readOnly}
            allowClear
            value={typed.phaseId || undefined}
            onChange={(phaseId?: number) => onChange({ phaseId: phaseId ?? 0 })}
            options={phases.map((p) => ({ value: p.id, label: p.name, title: p.name }))}
          />
        </label>
      )}
      {(role === "administrator" || role === "lead") && (
        <label className="wide" htmlFor="entry-perHour">
          A rate of its own
          <Input {...field("perHour", "A rate of its own")} variant="underlined" placeholder="the one that holds" />
        </label>
      )}
      <label className="wide" htmlFor="entry-treatment">
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
    </div>
  );
}

/** The value of what is being typed, a moment after each key. */
function LiveWorth({ typed }: { typed: TypedEntry | null }) {
  const settled = useSettled(typed, 120);
  const worth = useWorth(settled);
  if (!typed) return null;
  if (!typed.worked.trim()) return <p className="soft">Type the time to see its value.</p>;
  if (worth.error) return <p className="refusal">{worth.error.message}</p>;
  return worth.data ? (
    <div data-testid="live-worth">
      {worth.data.explanation ? (
        <Steps of={worth.data.explanation} />
      ) : (
        <p className="soft">
          {clock(worth.data.minutes)} worked, {clock(worth.data.billed)} billed.
        </p>
      )}
    </div>
  ) : null;
}
