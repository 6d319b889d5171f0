import { Checkbox, Input, Select } from "antd";
import { clsx } from "clsx";
import type { Schema } from "../../api/client";
import { short } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import explainCss from "../../frame/explain.module.css";
import { clock, Money, Moneys } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import tableCss from "../../frame/table.module.css";
import { useSettled } from "../../frame/use-settled";
import { HoldField } from "./entry-fields";
import recordingCss from "./recording.module.css";
import { type Together, usePreview } from "./use-work";
import { treatments } from "./words";
import { engagementOptions } from "./work-fields";

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
  return (
    <Folio label="Change together">
      <p className={deskCss.folioOver}>Selected</p>
      <h2>
        {ids.size.toLocaleString("en")} {ids.size === 1 ? "entry" : "entries"}
      </h2>
      <div className={formCss.fields}>
        <label className={formCss.wide} htmlFor="to-engagement">
          Move to
          <Select
            id="to-engagement"
            aria-label="Move to"
            variant="underlined"
            allowClear
            popupMatchSelectWidth={false}
            showSearch={{ optionFilterProp: "label" }}
            placeholder="stays"
            value={change.engagementId}
            onChange={(engagementId) => set({ engagementId })}
            options={engagementOptions(choices?.engagements)}
          />
        </label>
        <label className={formCss.wide} htmlFor="to-service">
          Service
          <Select
            id="to-service"
            aria-label="Service of them"
            variant="underlined"
            allowClear
            placeholder="stays"
            value={change.serviceId}
            onChange={(serviceId) => set({ serviceId })}
            options={choices?.services.map((s) => ({ value: s.id, label: s.name, title: s.name }))}
          />
        </label>
        <label className={formCss.wide} htmlFor="to-treatment">
          How they are billed
          <Select
            id="to-treatment"
            aria-label="How they are billed"
            variant="underlined"
            allowClear
            placeholder="stays"
            value={change.treatment}
            onChange={(treatment) => set({ treatment })}
            options={treatments.map((t) => ({ ...t, title: t.label }))}
          />
        </label>
        <TheirHold change={change} onSet={set} />
        {prices && <TheirPrice change={change} onSet={set} />}
      </div>
      <Preview ids={ids} change={change} />
    </Folio>
  );
}

interface PartProps {
  change: Change;
  onSet: (part: Change) => void;
}

function TheirHold({ change, onSet }: PartProps) {
  const lifted = change.hold === "none";
  return (
    <>
      <HoldField
        typed={{ hold: lifted ? "" : change.hold }}
        none="stays"
        readOnly={lifted}
        onChange={({ hold }) => onSet({ hold: hold || undefined })}
      />
      <Checkbox
        className={formCss.wide}
        checked={lifted}
        onChange={(event) => onSet({ hold: event.target.checked ? "none" : undefined })}
      >
        Release them
      </Checkbox>
    </>
  );
}

function TheirPrice({ change, onSet }: PartProps) {
  return (
    <>
      <label htmlFor="to-markup">
        Mark-up, %
        <Input
          id="to-markup"
          aria-label="Mark-up of them, %"
          variant="underlined"
          placeholder="stays"
          value={change.markup ?? ""}
          onChange={(event) => onSet({ markup: event.target.value })}
        />
      </label>
      <label htmlFor="to-rate">
        A rate of their own
        <Input
          id="to-rate"
          aria-label="A rate of their own"
          variant="underlined"
          placeholder="stays"
          value={change.perHour ?? ""}
          onChange={(event) => onSet({ perHour: event.target.value })}
        />
      </label>
      <Checkbox
        className={formCss.wide}
        checked={change.rerate ?? false}
        onChange={(event) => onSet({ rerate: event.target.checked || undefined })}
      >
        At the rates that hold now
      </Checkbox>
    </>
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
      <table className={tableCss.plain}>
        <tbody>
          <tr>
            <th scope="row">{entries.length} change, before</th>
            <td className="number">
              <Moneys of={before} zero="0.00" />
            </td>
          </tr>
          <tr className={tableCss.sumRow}>
            <th scope="row">after</th>
            <td className="number">
              <Moneys of={after} zero="0.00" />
            </td>
          </tr>
        </tbody>
      </table>
      {same > 0 && <p className="soft">{same} are so already.</p>}
      {stay.length > 0 && (
        <p className={deskCss.findingBox}>
          <b>{stay.length} can’t be changed.</b> {stay[0]?.why}
        </p>
      )}
      <ol className={clsx(tableCss.plainList, recordingCss.beforeAfter)}>
        {entries.slice(0, listed).map((entry) => (
          <li key={entry.id}>
            {short(entry.day)} · {entry.who} · {clock(entry.minutes)} · {entry.text}
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
