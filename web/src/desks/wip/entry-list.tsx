import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schema } from "../../api/client";
import { short } from "../../frame/days";
import { Do } from "../../frame/do";
import { Explained, openExplanation } from "../../frame/explain";
import { Fact, Facts } from "../../frame/facts";
import { hours, useMoneyText } from "../../frame/figure";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { type Reads, Refused } from "../../frame/state";
import { DecideBar, DecideForm, decisions, type Kind } from "./decide-form";
import { type Entry, useDecisions } from "./use-wip";
import wipCss from "./wip.module.css";

interface Props {
  read: Reads;
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
export function EntryList({ read, entries, charges, engagements, mayDecide }: Props) {
  const navigate = useNavigate();
  const money = useMoneyText();
  const [asking, setAsking] = useState<Kind | null>(null);
  const [done, setDone] = useState<Schema["Taken"] | null>(null);
  const { decide, undo } = useDecisions();
  const list = useList({
    name: "unbilled entries",
    rows: entries,
    columns: columns((amount) => money(amount, true)),
    id: (entry) => entry.portionId,
  });
  const marked = list.chosen;
  const on = marked.length > 0 ? marked : list.row ? [list.row] : [];
  const held = on.length > 0 && on.every((entry) => entry.hold);
  const take = (decision: Schema["Decision"]) =>
    decide.mutate(
      { portionIds: on.map((entry) => entry.portionId), decision },
      {
        onSuccess: (taken) => {
          setDone(taken);
          setAsking(null);
          list.forget();
          document.querySelector<HTMLElement>("[aria-label='Unbilled entries']")?.focus();
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
  const words = on.length === 1 ? (on[0] ? `${short(on[0].day)} · ${on[0].initials}` : "") : `${on.length} entries`;
  return (
    <>
      {charges.length > 0 && (
        <Facts label="Charges due">
          {charges.map((charge) => (
            <Fact
              key={charge.text + charge.due}
              of={
                <>
                  {charge.text}
                  <span className="soft">, due {short(charge.due)}</span>
                </>
              }
            >
              {charge.open ? "price open" : money(charge.amount, true)}
            </Fact>
          ))}
        </Facts>
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
          refused={decide.error}
          onDecide={take}
          onClose={() => setAsking(null)}
        />
      )}
      {!asking && <Refused by={decide.error} />}
      {done && (
        <p role="status" className={wipCss.decideDone}>
          {done.said}.{" "}
          <Do disabled={undo.isPending} onClick={() => undo.mutate(done.actId, { onSuccess: () => setDone(null) })}>
            Undo
          </Do>
          <Refused by={undo.error} inline />
        </p>
      )}
      <List
        inFolio
        label="Unbilled entries"
        list={list}
        read={read}
        choice={mayDecide ? list.chooses((entry) => `${short(entry.day)} ${entry.text}`) : undefined}
        onOpen={(entry) => navigate(sourceOf(entry))}
        keys={{
          "=": () => openExplanation(document.querySelector("[aria-label='Unbilled entries'] tr.current")),
          ...Object.fromEntries(decisions.map(({ kind, key }) => [key, () => ask(kind)])),
        }}
        empty={<p className="soft">No entry is unbilled.</p>}
      />
    </>
  );
}

const columns = (money: (amount: Schema["Amount"]) => string): Column<Entry>[] => [
  {
    name: "Entry",
    by: (entry) => entry.day,
    title: (entry) => `${entry.text || entry.service}: ${entry.person}, ${entry.service}, ${entry.age} days old`,
    cell: (entry) => (
      <Link to={sourceOf(entry)} className="quiet">
        {short(entry.day)} · {entry.initials} · {entry.text || entry.service}
      </Link>
    ),
  },
  { name: "Hours", number: true, by: (entry) => entry.minutes, cell: (entry) => hours(entry.minutes, "") },
  {
    name: "Value",
    number: true,
    by: (entry) => entry.value.minor,
    cell: (entry) => (
      <Explained step={entry.explanation} label={`Value of ${entry.text}`}>
        {worth(entry, money)}
      </Explained>
    ),
  },
];

/** What an entry is worth on a bill, or why it is not. */
function worth(entry: Entry, money: (amount: Schema["Amount"]) => string): string {
  if (entry.hold) return entry.hold === "released" ? "on hold" : `held to ${short(entry.hold)}`;
  if (entry.withoutRate) return "no rate";
  if (entry.covered) return "covered";
  if (entry.overCap) return "over the cap";
  return entry.treatment === "no_charge" ? "no charge" : money(entry.value);
}
