import { Checkbox } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { short } from "../../frame/days";
import { Do } from "../../frame/do";
import { Explained, openExplanation } from "../../frame/explain";
import { hours, useMoneyText } from "../../frame/figure";
import { useListKeys } from "../../frame/keys";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { DecideBar, DecideForm, decisions, type Kind } from "./decide-form";
import { type Entry, useDecisions } from "./use-wip";
import wipCss from "./wip.module.css";

interface Props {
  entries: Entry[];
  charges: Schema["ChargeDue"][];
  engagements: { id: number; name: string }[];
  mayDecide: boolean;
}

/** Where what is unbilled was recorded: the entry in its week, or the purchase. */
const sourceOf = (entry: Entry) =>
  entry.source === "expense"
    ? `/time/expenses/${entry.purchaseId}`
    : `/time?week=${entry.day}&person=${entry.personId}&entry=${entry.entryId}`;

/** The unbilled entries of an engagement: one or many are held, written, put at no charge, divided or moved. */
export function EntryList({ entries, charges, engagements, mayDecide }: Props) {
  const [current, setCurrent] = useState(0);
  const [chosen, setChosen] = useState<Set<number>>(new Set());
  const [asking, setAsking] = useState<Kind | null>(null);
  const [done, setDone] = useState<Schema["Taken"] | null>(null);
  const { decide, undo } = useDecisions();
  const money = useMoneyText();
  const marked = entries.filter((entry) => chosen.has(entry.portionId));
  const here = entries[Math.min(current, entries.length - 1)];
  const on = marked.length > 0 ? marked : here ? [here] : [];
  const held = on.length > 0 && on.every((entry) => entry.hold);
  const take = (decision: Schema["Decision"]) =>
    decide.mutate(
      { portionIds: on.map((entry) => entry.portionId), decision },
      {
        onSuccess: (taken) => {
          setDone(taken);
          setAsking(null);
          setChosen(new Set());
          document.querySelector<HTMLElement>("[data-entries]")?.focus();
        },
      },
    );
  const ask = (kind: Kind) => {
    if (!mayDecide || on.length === 0) return;
    decide.reset();
    setDone(null);
    if (kind === "hold" && held) take({ kind: "release", reason: "" });
    else setAsking(kind);
  };
  const flip = (entry: Entry) => {
    const next = new Set(chosen);
    if (!next.delete(entry.portionId)) next.add(entry.portionId);
    setChosen(next);
  };
  const keys = useListKeys(entries, current, setCurrent, {
    x: flip,
    "=": () => openExplanation(document.querySelector(`[data-entries] [data-row="${current}"]`)),
    ...Object.fromEntries(decisions.map(({ kind, key }) => [key, () => ask(kind)])),
  });
  const words = on.length === 1 ? (on[0] ? `${short(on[0].day)} · ${on[0].initials}` : "") : `${on.length} entries`;
  return (
    <>
      {charges.length > 0 && (
        <table className={clsx(tableCss.plain, tableCss.entries)} aria-label="Charges due">
          <tbody>
            {charges.map((charge) => (
              <tr key={charge.text + charge.due}>
                <td>
                  {charge.text}
                  <span className="soft">, due {short(charge.due)}</span>
                </td>
                <td className="number">{charge.open ? "price open" : money(charge.amount, true)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {mayDecide && entries.length > 0 && (
        <DecideBar on={marked.length > 0 ? words : "the marked entry"} held={held} onAsk={ask} />
      )}
      {asking && (
        <DecideForm
          key={asking}
          kind={asking}
          on={words}
          engagements={engagements}
          busy={decide.isPending}
          refused={decide.error?.message}
          onDecide={take}
          onClose={() => setAsking(null)}
        />
      )}
      {!asking && decide.error && (
        <p className="refusal" role="alert">
          {decide.error.message}
        </p>
      )}
      {done && (
        <p role="status" className={wipCss.decideDone}>
          {done.said}.{" "}
          <Do disabled={undo.isPending} onClick={() => undo.mutate(done.actId, { onSuccess: () => setDone(null) })}>
            Undo
          </Do>
          <Refused by={undo.error} inline />
        </p>
      )}
      <section aria-label="Unbilled entries" data-entries {...keys}>
        <table className={clsx(tableCss.plain, tableCss.entries)}>
          <thead>
            <tr>
              {mayDecide && (
                <th scope="col" className={tableCss.box}>
                  <span className="unseen">Select</span>
                </th>
              )}
              <th scope="col">Entry</th>
              <th scope="col" className="number">
                Hours
              </th>
              <th scope="col" className="number">
                Value
              </th>
            </tr>
          </thead>
          <tbody>
            {entries.map((entry, index) => (
              <tr
                key={entry.portionId}
                data-row={index}
                className={[index === current ? "current" : "", chosen.has(entry.portionId) ? "picked" : ""].join(" ")}
                onClick={() => setCurrent(index)}
              >
                {mayDecide && (
                  <td className={tableCss.box}>
                    <Checkbox
                      tabIndex={-1}
                      aria-label={`Select ${short(entry.day)} ${entry.text}`}
                      checked={chosen.has(entry.portionId)}
                      onChange={() => flip(entry)}
                    />
                  </td>
                )}
                <td>
                  <Link
                    to={sourceOf(entry)}
                    className="quiet"
                    tabIndex={index === current ? 0 : -1}
                    title={`${entry.person}, ${entry.service}, ${entry.age} days old`}
                  >
                    {short(entry.day)} · {entry.initials} · {entry.text || entry.service}
                  </Link>
                </td>
                <td className="number">{hours(entry.minutes, "")}</td>
                <td className="number">
                  <Explained
                    step={entry.explanation}
                    label={`Value of ${entry.text}`}
                    tabIndex={index === current ? 0 : -1}
                  >
                    {worth(entry, (amount) => money(amount, true))}
                  </Explained>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}

/** What an entry is worth on a bill, or why it is not. */
function worth(entry: Entry, money: (amount: Schema["Amount"]) => string): string {
  if (entry.hold) return entry.hold === "released" ? "on hold" : `held to ${short(entry.hold)}`;
  if (entry.withoutRate) return "no rate";
  if (entry.covered) return "covered";
  if (entry.overCap) return "over the cap";
  return entry.treatment === "no_charge" ? "no charge" : money(entry.value);
}
