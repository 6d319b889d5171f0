import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { openExplanation } from "../../frame/explain";
import { Moneys } from "../../frame/figure";
import { count, days, money, text as word } from "../../frame/list/columns";
import { useKept } from "../../frame/list/kept";
import { List } from "../../frame/list/list";
import { type Column, usePagedList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { useOptions, useRows } from "../../frame/record/use-record";
import { SaidAnyDate, SaidChoice, SaidText, Sentence } from "../../frame/sentence";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";
import { useSettled } from "../../frame/use-settled";
import { standing, sums, whose } from "./invoice-columns";
import { InvoiceFolio } from "./invoice-folio";
import { onLines } from "./line-order";
import { ManyTally } from "./many-tally";
import {
  allOf,
  everyInvoice,
  mostTogether,
  type RegisterPage,
  type Sought,
  type Summary,
  useRegisterPages,
} from "./use-billing";
import { handedWords } from "./use-delivery";
import { useRuns } from "./use-run";
import { Which } from "./which";

/** Every invoice ever issued: rows are read as they come into sight, the server has their order and their sums. */
export function RegisterDesk() {
  const { role } = useSession();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const runs = useRuns(role !== "lead");
  const said = soughtIn(search);
  const [text, setText] = useState("");
  const order = useKept("register").kept.order;
  const sought = {
    ...said,
    // A run that is gone is chosen no more.
    run: runs.data && !runs.data.some((r) => r.id === said.run) ? 0 : said.run,
    text: useSettled(text, 150),
    by: order ? (heads[order.column] ?? "") : "",
    down: order?.down ?? false,
  };
  const pages = useRegisterPages(sought);
  const [chosen, setChosen] = useState<ReadonlyMap<number, Summary>>(new Map());
  const forget = () => setChosen(new Map());
  const all = () => allOf(sought);
  const list = usePagedList({
    name: "register",
    columns,
    id: (row: Summary) => row.id,
    of: sought,
    sorts: true,
    filter: { sought: text, setSought: setText, waits: text !== sought.text || pages.waits },
    sums: pages.whole && footOf(pages.whole),
    ...pages,
  });
  const set = (rows: Summary[], on: boolean) =>
    setChosen((before) => {
      const next = new Map(before);
      for (const row of rows) on ? next.set(row.id, row) : next.delete(row.id);
      return next;
    });
  const say = (change: Partial<Sought>) => {
    forget();
    const kept = Object.entries({ ...said, ...change }).filter(([, value]) => value);
    setSearch({ show: "register", ...Object.fromEntries(kept.map(([name, value]) => [name, String(value)])) });
  };
  const open = (id: number) => navigate(`/billing/${id}`, onLines);
  const run = runs.data?.find((r) => r.id === sought.run);
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>Register of invoices</Title>
        <Sentence>
          Show <Which value="register" />
          <RegisterSentence
            sought={sought}
            runs={(runs.data ?? []).map((r) => [r.id, r.name])}
            counts={pages.whole?.handed}
            onSay={say}
          />
        </Sentence>
        <List
          main
          className={tableCss.invoices}
          label="Invoices"
          list={list}
          read={pages.read}
          choice={{
            has: (row) => chosen.has(row.id),
            set,
            label: (row) => row.number || row.client,
            all: {
              chosen: chosen.size,
              most: mostTogether,
              flip: async () => (chosen.size > 0 ? forget() : set(await all(), true)),
            },
          }}
          onOpen={(row) => open(row.id)}
          keys={{ "=": () => openExplanation(document.querySelector("aside")) }}
          empty={<p>No invoice is like this. Choose another state or client, or issue a draft.</p>}
        />
      </div>
      <InvoiceFolio summary={list.row} />
      <ManyTally
        read={pages.read}
        here={{ rows: [], count: pages.total, late: pages.whole?.late ?? 0, all }}
        chosen={[...chosen.values()]}
        row={list.row}
        show="register"
        name={run?.name ?? "Invoices"}
        onDone={forget}
        onOpen={open}
      />
    </>
  );
}

const soughtIn = (search: URLSearchParams): Sought => ({
  ...everyInvoice,
  client: Number(search.get("client") ?? 0),
  engagement: Number(search.get("engagement") ?? 0),
  lead: Number(search.get("lead") ?? 0),
  run: Number(search.get("run") ?? 0),
  state: search.get("state") ?? "",
  handed: (search.get("handed") ?? "") as Sought["handed"],
  from: search.get("from") ?? "",
  to: search.get("to") ?? "",
  atLeast: search.get("atLeast") ?? "",
  order: search.get("order") ?? "",
});

interface RegisterProps {
  sought: Sought;
  runs: [number, string][];
  /** How many there are of each choice by how far they have come. */
  counts?: Schema["HandedCounts"];
  onSay: (change: Partial<Sought>) => void;
}

/** Which invoices of the register are shown. */
function RegisterSentence({ sought, runs, counts, onSay }: RegisterProps) {
  const { role } = useSession();
  const people = useRows("people");
  const clients = useOptions("clients", { has: sought.client ? String(sought.client) : "" });
  return (
    <>
      , to{" "}
      <SaidChoice
        label="Client"
        value={sought.client}
        search={clients.search}
        choices={orAll(
          0,
          "all clients",
          (clients.data ?? []).map((c) => [c.id, c.title]),
        )}
        onChange={(client) => onSay({ client })}
      />
      ,{" "}
      <SaidChoice label="State" value={sought.state} choices={registerStates} onChange={(state) => onSay({ state })} />,{" "}
      <SaidChoice
        label="Handed over"
        value={sought.handed}
        choices={handedChoices.map(({ value, label }) => ({
          value,
          label: value && counts ? `${label}, ${counts[value]}` : label,
        }))}
        onChange={(handed) => onSay({ handed })}
      />
      {role !== "lead" && (
        <>
          , of{" "}
          <SaidChoice
            label="Run"
            value={sought.run}
            choices={orAll(0, "every run, and without one", runs)}
            onChange={(run) => onSay({ run })}
          />
          , on work led by{" "}
          <SaidChoice
            label="Lead"
            value={sought.lead}
            choices={orAll(
              0,
              "anybody",
              (people.data ?? []).map((person) => [person.id, person.title]),
            )}
            onChange={(lead) => onSay({ lead })}
          />
        </>
      )}
      , dated from{" "}
      <SaidAnyDate label="Dated from" value={sought.from} any="ever" onChange={(from) => onSay({ from })} /> to{" "}
      <SaidAnyDate label="Dated to" value={sought.to} any="this day" onChange={(to) => onSay({ to })} />, of at least{" "}
      <SaidText
        label="At least"
        any="0.00"
        value={sought.atLeast}
        as="amount"
        onChange={(atLeast) => onSay({ atLeast })}
      />
      , <SaidChoice label="Order" value={sought.order} choices={orders} onChange={(order) => onSay({ order })} />
    </>
  );
}

const registerStates = [
  { value: "", label: "in any state" },
  { value: "open", label: "still owed" },
  { value: "late", label: "late" },
  { value: "paid", label: "paid" },
  { value: "disputed", label: "disputed" },
  { value: "credited", label: "credited" },
  { value: "credit_note", label: "credit notes only" },
  { value: "opening", label: "opening balances only" },
];

const handedChoices: { value: Sought["handed"]; label: string }[] = [
  { value: "", label: "handed over or not" },
  { value: "not_yet", label: "not handed over yet" },
  { value: "queued", label: "on their way" },
  { value: "on_paper", label: "to be printed or posted" },
  { value: "failed", label: "failed to arrive" },
  { value: "out", label: "handed over" },
  { value: "unopened", label: "sent and not opened" },
  { value: "opened", label: "opened" },
  { value: "fetched", label: "whose file was fetched" },
  { value: "settled", label: "handed over and paid" },
];

const orders = [
  { value: "", label: "newest first" },
  { value: "number", label: "by number" },
  { value: "due", label: "by what is due first" },
  { value: "client", label: "by client" },
  { value: "open", label: "most owed first" },
];

const columns: Column<Summary>[] = [
  standing("Number"),
  whose,
  days("Dated", (row) => row.dated),
  days("Due", (row) => row.due),
  count("Days late", (row) => row.daysLate, { tone: (row) => row.daysLate > 0 && "lost" }),
  ...sums,
  money("Open, gross", (row) => row.open, { bare: true }),
  word("With the client", (row) => handedWords[row.handed] ?? "", {
    by: undefined,
    tone: (row) => row.handed === "failed" && "lost",
  }),
];

/** By what the server orders under which head. */
const heads: Record<string, string> = {
  Number: "number",
  "Client and engagements": "client",
  Dated: "dated",
  Due: "due",
  "Days late": "late",
  Net: "net",
  Tax: "tax",
  "Total, gross": "total",
  "Open, gross": "open",
};

const footOf = ({ net, tax, gross, open }: RegisterPage) => ({
  Net: <Moneys of={net} />,
  Tax: <Moneys of={tax} bare />,
  "Total, gross": <Moneys of={gross} bare />,
  "Open, gross": <Moneys of={open} bare />,
});
