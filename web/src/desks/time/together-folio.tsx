import { clsx } from "clsx";
import type { Schema } from "../../api/client";
import { hoursSaid } from "../../api/hours";
import { short } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import explainCss from "../../frame/explain.module.css";
import { Fact, Facts } from "../../frame/facts";
import { Money, Moneys } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { CheckField, ChoiceField, TextField } from "../../frame/form/fields";
import { FieldGroup } from "../../frame/form/form";
import tableCss from "../../frame/table.module.css";
import { useSettled } from "../../frame/use-settled";
import { HoldField } from "./entry-fields";
import recordingCss from "./recording.module.css";
import { type Together, usePreview } from "./use-work";
import { treatments } from "./words";
import { useOpenEngagements } from "./work-fields";

type Change = Omit<Together, "ids">;

interface Props {
  ids: Set<number>;
  change: Change;
  choices?: Schema["Choices"];
  prices: boolean;
  onChange: (change: Change) => void;
}

/** One change of many entries: what changes, and each entry before and after, before anything is done. */
export function TogetherFolio({ ids, change, choices, prices, onChange }: Props) {
  const engagements = useOpenEngagements(change.engagementId);
  if (ids.size === 0)
    return (
      <Folio label="Change together">
        <h2>Nothing selected</h2>
        <p className="soft">
          Select entries to move them, re-rate them, or change how they are billed, all in one go: x on a row, or the
          boxes. Enter opens an entry in its week.
        </p>
      </Folio>
    );
  // What is left empty stays as it is, and is not sent.
  const set = (part: Change) =>
    onChange(Object.fromEntries(Object.entries({ ...change, ...part }).filter(([, value]) => value)) as Change);
  const of = { typed: change, set };
  return (
    <Folio label="Change together">
      <p className={deskCss.folioOver}>Selected</p>
      <h2>
        {ids.size.toLocaleString("en")} {ids.size === 1 ? "entry" : "entries"}
      </h2>
      <FieldGroup id="to">
        <ChoiceField
          of={of}
          name="engagementId"
          label="Move to"
          placeholder="stays"
          options={engagements.options}
          search={engagements.search}
          clears
          wide
        />
        <ChoiceField
          of={of}
          name="serviceId"
          label="Service"
          called="Service of them"
          placeholder="stays"
          options={(choices?.services ?? []).map((s) => ({ value: s.id, label: s.name }))}
          clears
          wide
        />
        <ChoiceField
          of={of}
          name="treatment"
          label="How they are billed"
          placeholder="stays"
          options={treatments}
          clears
          wide
        />
        {change.hold !== "none" && <HoldField of={of} none="stays" />}
        <CheckField
          of={{
            typed: { lifted: change.hold === "none" },
            set: ({ lifted }: { lifted?: boolean }) => set({ hold: lifted ? "none" : undefined }),
          }}
          name="lifted"
          label="Release them"
          wide
        />
        {prices && (
          <>
            <TextField of={of} name="markup" label="Mark-up, %" called="Mark-up of them, %" placeholder="stays" />
            <TextField of={of} name="perHour" label="A rate of their own" placeholder="stays" />
            <CheckField of={of} name="rerate" label="At the rates that hold now" wide />
          </>
        )}
      </FieldGroup>
      <Preview ids={ids} change={change} />
    </Folio>
  );
}

const listed = 30;

/** What the change would do: the sums before and after, the entries, and those that can't be changed. */
function Preview({ ids, change }: { ids: Set<number>; change: Change }) {
  const says = Object.keys(change).length > 0;
  const settled = useSettled(says ? { ...change, ids: [...ids] } : null, 250);
  const preview = usePreview(settled);
  if (!says) return <p className="soft">Choose what changes; before and after stand here first.</p>;
  if (preview.error) return <p className="refusal">{preview.error.message}</p>;
  if (!preview.data) return <p className="soft">Reckoning…</p>;
  const { entries, stay, same, before, after } = preview.data;
  return (
    <section aria-label="Before and after">
      <Facts>
        <Fact of={`${entries.length} change, before`}>
          <Moneys of={before} zero="0.00" />
        </Fact>
        <Fact of="after" sum>
          <Moneys of={after} zero="0.00" />
        </Fact>
      </Facts>
      {same > 0 && <p className="soft">{same} are so already.</p>}
      {stay.length > 0 && (
        <p className={deskCss.findingBox}>
          <b>{stay.length} can’t be changed.</b> {stay[0]?.why}
        </p>
      )}
      <ol className={clsx(tableCss.plainList, recordingCss.beforeAfter)}>
        {entries.slice(0, listed).map((entry) => (
          <li key={entry.id}>
            {short(entry.day)} · {entry.who} · {hoursSaid(entry.minutes)} · {entry.text}
            <span className={explainCss.stepDetail}>
              {entry.was !== entry.becomes && `${entry.was} → ${entry.becomes} `}
              {entry.before && entry.after && entry.before.minor !== entry.after.minor && (
                <>
                  <Money of={entry.before} zero="0.00" /> → <Money of={entry.after} zero="0.00" />
                </>
              )}
            </span>
          </li>
        ))}
      </ol>
      {entries.length > listed && <p className="soft">And {entries.length - listed} more.</p>}
    </section>
  );
}
