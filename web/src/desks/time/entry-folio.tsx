import { clsx } from "clsx";
import dayjs from "dayjs";
import { Link } from "react-router";
import { hoursSaid } from "../../api/hours";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Steps } from "../../frame/explain";
import { Folio } from "../../frame/folio";
import { History } from "../../frame/history";
import { Refused } from "../../frame/state";
import { useSettled } from "../../frame/use-settled";
import { EntryFields } from "./entry-fields";
import recordingCss from "./recording.module.css";
import type { Edit, Place } from "./use-cells";
import { useTimerActs } from "./use-timers";
import { type Entry, type TypedEntry, useWorth } from "./use-week";

interface Props {
  person: string;
  place: Place | null;
  entries: Entry[];
  entry?: Entry;
  edit?: Edit;
  typed?: Edit["typed"];
  body?: TypedEntry;
  phases: { id: number; name: string }[];
  readOnly: boolean;
  mayAdd: boolean;
  mine: boolean;
  problem?: Error;
  onPlace: (place: Place) => void;
  onChange: (part: Partial<Edit["typed"]>) => void;
  onCommit: () => void;
  onCopy: () => void;
  onRemove: () => void;
}

/** The entry at hand: its fields, and what it is worth while it is typed. */
export function EntryFolio(props: Props) {
  const { place, entry, edit, typed, body, person } = props;
  const { role } = useSession();
  if (!place || !typed)
    return (
      <Folio label="Entry">
        <h2>No entry chosen</h2>
        <p className="soft">
          Go to a cell and type the time: 1:30, 1.5 or 90m. Its text, how it is billed and what it is worth stand here.
        </p>
      </Folio>
    );
  const on = entry && entry.billing !== "unbilled" && entry.billing !== "not_billable";
  return (
    <Folio label="Entry">
      <p className={deskCss.folioOver}>
        {dayjs(place.day).format("dddd D MMMM")}, {person}
      </p>
      <h2>{entry ? `${hoursSaid(entry.minutes)} on ${entry.engagement}` : "A new entry"}</h2>
      <EntryChips {...props} place={place} />
      {on && (
        <p className={deskCss.findingBox}>
          <b>Locked.</b> {entry.invoice ? `Billed on ${entry.invoice}.` : "It is on a draft."}{" "}
          {role !== "staff" && <Link to={`/billing/${entry.invoiceId}`}>Open it</Link>}
        </p>
      )}
      <EntryFields
        key={place.entryId}
        typed={typed}
        entry={entry}
        body={body}
        phases={props.phases}
        problem={edit?.problem}
        readOnly={props.readOnly || Boolean(on)}
        onChange={props.onChange}
        onCommit={props.onCommit}
      />
      <Refused by={props.problem} />
      {edit ? (
        <LiveWorth typed={body && !edit.problem ? body : null} entry={entry} />
      ) : (
        entry && <Worth entry={entry} />
      )}
      {entry && !on && !props.readOnly && <EntryActs {...props} entry={entry} />}
      {entry && <History subject="time-entries" id={entry.id} />}
    </Folio>
  );
}

function Worth({ entry }: { entry: Entry }) {
  return (
    <>
      {entry.explanation && <Steps of={entry.explanation} />}
      <Difference expected={entry.expected} worked={entry.minutes} />
    </>
  );
}

/** Expected against worked time, if any was expected. */
function Difference({ expected, worked }: { expected: number; worked: number }) {
  if (expected === 0) return null;
  const over = worked - expected;
  const words = over === 0 ? "as expected" : over > 0 ? `${hoursSaid(over)} more` : `${hoursSaid(-over)} less`;
  return (
    <p className={over > 0 ? "lost" : "soft"}>
      {hoursSaid(expected)} expected, {words}.
    </p>
  );
}

/** What else can be done with an entry. */
function EntryActs({ entry, mine, mayAdd, onCopy, onRemove }: Props & { entry: Entry }) {
  const timers = useTimerActs();
  return (
    <p className={recordingCss.acts}>
      {mayAdd && <Do onClick={onCopy}>Copy it</Do>}
      {mine && (
        <Do
          onClick={() =>
            timers.start.mutate({
              engagementId: entry.engagementId,
              serviceId: entry.serviceId,
              treatment: entry.treatment,
              text: entry.text,
              entryId: entry.id,
            })
          }
        >
          Go on by timer
        </Do>
      )}
      <button type="button" className="link lost" onClick={onRemove}>
        Remove this entry
      </button>
      <Refused by={timers.problem} inline />
    </p>
  );
}

/** The entries of a cell that has several, and the offer of another. */
function EntryChips({ place, entries, entry, mayAdd, onPlace }: Props & { place: Place }) {
  if (entries.length === 0) return null;
  return (
    <p className={recordingCss.chips}>
      {(entries.length > 1 || !entry) &&
        entries.map((e) => (
          <button
            key={e.id}
            type="button"
            className={e.id === entry?.id ? clsx("chosen", recordingCss.chip) : recordingCss.chip}
            onClick={() => onPlace({ ...place, entryId: e.id })}
          >
            {hoursSaid(e.minutes)} {e.text}
          </button>
        ))}
      {mayAdd && <Do onClick={() => onPlace({ ...place, entryId: 0 })}>Another entry</Do>}
    </p>
  );
}

/** The value of what is being typed, a moment after each key. */
function LiveWorth({ typed, entry }: { typed: TypedEntry | null; entry?: Entry }) {
  const settled = useSettled(typed, 120);
  const worth = useWorth(settled, entry?.id);
  if (!typed) return null;
  if (!typed.worked.trim() && !typed.started && !typed.flat)
    return <p className="soft">Type the time to see its value.</p>;
  if (worth.error) return <p className="refusal">{worth.error.message}</p>;
  return worth.data ? (
    <div data-testid="live-worth">
      {worth.data.warning && <p className={deskCss.findingBox}>{worth.data.warning}</p>}
      {worth.data.explanation ? (
        <Steps of={worth.data.explanation} />
      ) : (
        <p className="soft">
          {hoursSaid(worth.data.minutes)} worked, {hoursSaid(worth.data.billed)} billed.
        </p>
      )}
      <Difference expected={entry?.expected ?? 0} worked={worth.data.minutes} />
    </div>
  ) : null;
}
