import { Button } from "antd";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Sums } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { useRows } from "../../frame/record/use-record";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { asProposed, type Doing, EntryFolio, wordsOf } from "./bank-entry";
import { BankFiles } from "./bank-files";
import { type BankEntry, type EntryState, useBankEntries, useTake, useTakeCertain, useUndoEntry } from "./use-bank";
import { MoneyViews } from "./views";

const states: { value: "open" | "taken" | "aside" | "all"; label: string }[] = [
  { value: "open", label: "still open" },
  { value: "taken", label: "taken" },
  { value: "aside", label: "set aside" },
  { value: "all", label: "all, the latest 500" },
];

/** What an entry is, or may be, in one cell. */
const what = (e: BankEntry) => {
  const [best] = e.proposals;
  if (e.state !== "open") return `${e.client ? `${e.client}: ` : ""}${e.said}`;
  return best ? `${best.sureness}: ${best.client ? `${best.client}, ` : ""}${wordsOf(best)}` : "";
};

const columns: Column<BankEntry>[] = [
  days("Booked", (e) => e.booked),
  text("From or to", (e) => e.party || "not said who", { names: "light" }),
  text("Says", (e) => [e.reference, e.text].filter(Boolean).join(" ")),
  text("It is", what, { cell: (e) => (what(e) ? what(e) : <span className="soft">nothing tells</span>) }),
  money("Amount", (e) => e.amount),
];

/** Entries of the bank, and what each of them is: certain ones in one go, likely ones by Enter, the others looked at. */
export function BankView() {
  const [search, setSearch] = useSearchParams();
  const { role, decimals, mark } = useSession();
  const account = Number(search.get("account") ?? 0);
  const state = (search.get("state") ?? "open") as (typeof states)[number]["value"];
  const entries = useBankEntries(account, state === "all" ? "" : (state as EntryState));
  const accounts = useRows("bank-accounts").data ?? [];
  const [reading, setReading] = useState(false);
  const [doing, setDoing] = useState({ entry: 0, what: "" as Doing });
  const take = useTake();
  const certain = useTakeCertain(account);
  const undo = useUndoEntry();
  const may = role === "administrator";
  const rows = entries.data ?? [];
  const list = useList({
    name: "bank",
    rows,
    columns,
    id: (e) => e.id,
    text: (e) => `${e.party} ${e.text} ${e.reference} ${e.from} ${what(e)}`,
    onMove: () => setDoing({ entry: 0, what: "" }),
  });
  const { row } = list;
  const begin = (e: BankEntry, what: Doing) => setDoing({ entry: e.id, what });
  const say = (next: { account?: number; state?: string }) => {
    const to = { account, state, ...next };
    setSearch({
      show: "bank",
      ...(to.account ? { account: String(to.account) } : {}),
      ...(to.state === "open" ? {} : { state: to.state }),
    });
  };
  const sure = rows.filter((e) => e.proposals[0]?.sureness === "certain");
  const takeBest = (e: BankEntry) => {
    const [best] = e.proposals;
    if (!may || take.isPending) return;
    if (e.state === "open" && best && best.sureness !== "perhaps")
      take.mutate({ entry: e, said: asProposed(best, decimals, mark) });
    else if (e.state === "open") begin(e, e.amount.minor > 0 ? "split" : "aside");
  };
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>The bank</Title>
        <Sentence>
          Entries on{" "}
          <SaidChoice
            label="Account"
            value={account}
            choices={orAll(
              0,
              "all accounts",
              accounts.map((a) => [a.id, a.title]),
            )}
            onChange={(id) => say({ account: id })}
          />{" "}
          that are{" "}
          <SaidChoice label="State" value={state} choices={states} onChange={(value) => say({ state: value })} />
        </Sentence>
        <List
          main
          label="Entries of the bank"
          list={list}
          read={entries}
          keys={
            may
              ? {
                  Enter: takeBest,
                  c: () => sure.length > 0 && !certain.isPending && certain.mutate(),
                  i: (e) => e.state === "open" && e.amount.minor > 0 && begin(e, "split"),
                  s: (e) => e.state === "open" && begin(e, "aside"),
                  u: (e) => e.state !== "open" && undo.mutate(e),
                }
              : {}
          }
          empty={
            <p>
              {state === "open"
                ? "Every entry has been said what it is. Read the next statement of your bank."
                : "No entry is so."}
            </p>
          }
        />
        <Refused by={take.error ?? certain.error ?? undo.error} />
        {certain.data && certain.data.entries > 0 && <p role="status">{certain.data.said}.</p>}
      </div>
      <Folio label="Entry">
        {reading && <BankFiles onDone={() => setReading(false)} />}
        {!reading && row && (
          <EntryFolio
            key={row.id}
            entry={row}
            doing={doing.entry === row.id ? doing.what : ""}
            onDoing={(what) => begin(row, what)}
          />
        )}
        {!reading && !row && <h2>Nothing chosen</h2>}
      </Folio>
      <Tally
        of={entries}
        actions={
          may && (
            <>
              <Button onClick={() => setReading(true)}>Read statements</Button>
              <Button
                type="primary"
                disabled={sure.length === 0}
                loading={certain.isPending}
                title="c"
                onClick={() => certain.mutate()}
              >
                {sure.length === 0 ? "None is certain" : `Take ${sure.length} that are certain`}
              </Button>
            </>
          )
        }
      >
        <TallySum figure={rows.length} what={rows.length === 1 ? "entry" : "entries"} />
        <TallySum figure={sure.length} what="certain" />
        <TallySum
          figure={<Sums label="Sum" parts={rows.map((e) => ({ of: e.party || e.text, amount: e.amount }))} />}
          what="in all"
        />
      </Tally>
    </>
  );
}
