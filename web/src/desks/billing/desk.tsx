import { lazy, Suspense } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Explained, openExplanation } from "../../frame/explain";
import { Fact, Facts } from "../../frame/facts";
import { useMoneyText } from "../../frame/figure";
import { FillMark, stateWords } from "../../frame/fill-mark";
import { Folio } from "../../frame/folio";
import { History } from "../../frame/history";
import { count, days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { useOptions, useRows } from "../../frame/record/use-record";
import { SaidAnyDate, SaidChoice, SaidText, Sentence } from "../../frame/sentence";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";
import { Issued } from "./issued";
import { onLines } from "./line-order";
import { ManyTally } from "./many-tally";
import { type Sought, type Summary, useDrafts, useInvoice, useRegister } from "./use-billing";
import { useRuns } from "./use-run";

// Most who look at drafts look at no run.
const RunPane = lazy(() => import("./run-pane").then((pane) => ({ default: pane.RunPane })));

export type Shown = "drafts" | "register";

/** Drafts to review, by run, and the register of every invoice ever issued. */
export function BillingDesk() {
  const { role } = useSession();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const show: Shown = search.get("show") === "register" ? "register" : "drafts";
  const sought = soughtIn(search);
  const runs = useRuns(role !== "lead");
  // A run that is gone is chosen no more.
  const runId = runs.data && !runs.data.some((r) => r.id === sought.run) ? 0 : sought.run;
  const drafts = useDrafts(runId);
  const register = useRegister(sought, show === "register");
  const clients = useOptions("clients", 0, show === "register");
  const rows = (show === "drafts" ? drafts.data : register.data) ?? [];
  const list = useList({
    name: show,
    rows,
    columns: show === "drafts" ? draftColumns : registerColumns,
    id: (row) => row.id,
    text: (row) => `${row.number} ${row.client} ${row.engagements} ${stateWords[row.state]} ${row.beside}`,
  });
  const turnTo = (params: Record<string, string>) => {
    list.forget();
    setSearch(params);
  };
  const say = (change: Partial<Sought>) => {
    const kept = Object.entries({ ...sought, ...change }).filter(([, value]) => value);
    turnTo({ show, ...Object.fromEntries(kept.map(([name, value]) => [name, String(value)])) });
  };
  const open = (id: number) => navigate(`/billing/${id}`, onLines);
  const run = runs.data?.find((r) => r.id === runId);
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>{show === "drafts" ? (run?.name ?? "Drafts to review") : "Register of invoices"}</Title>
        <Sentence>
          Show{" "}
          <SaidChoice
            label="Show"
            value={show}
            choices={[
              { value: "drafts", label: "drafts still to be issued" },
              { value: "register", label: "everything ever issued" },
            ]}
            onChange={(next) => turnTo({ show: next })}
          />
          {show === "drafts" && role !== "lead" && (
            <>
              , of{" "}
              <SaidChoice
                label="Run"
                value={runId}
                choices={orAll(
                  0,
                  "every run, and without one",
                  (runs.data ?? []).map((r) => [r.id, r.name]),
                )}
                onChange={(id) => turnTo(id ? { run: String(id) } : {})}
              />
            </>
          )}
          {show === "register" && (
            <RegisterSentence
              sought={sought}
              clients={(clients.data ?? []).map((c) => [c.id, c.title])}
              runs={(runs.data ?? []).map((r) => [r.id, r.name])}
              onSay={say}
            />
          )}
        </Sentence>
        {run && show === "drafts" && (
          <Suspense>
            <RunPane key={`${run.id}-${run.version}`} run={run} mayAct={role === "administrator" && !run.kept} />
          </Suspense>
        )}
        <List
          main
          className={tableCss.invoices}
          label={show === "drafts" ? "Drafts" : "Invoices"}
          list={list}
          read={show === "drafts" ? drafts : register}
          choice={list.chooses((row) => row.number || row.client)}
          onOpen={(row) => open(row.id)}
          keys={{
            f: () => {
              const next = [...list.rows.slice(list.current + 1), ...list.rows.slice(0, list.current)].find(
                (r) => r.found > 0,
              );
              if (next) list.move(list.rows.indexOf(next));
            },
            "=": () => openExplanation(document.querySelector("aside")),
          }}
          empty={
            show === "drafts" ? (
              <p>No drafts. Choose what to bill under Work in progress, or begin a single invoice.</p>
            ) : (
              <p>No invoice is like this. Choose another state or client, or issue a draft.</p>
            )
          }
        />
      </div>
      <InvoiceFolio summary={list.row} />
      <ManyTally
        read={show === "drafts" ? drafts : register}
        rows={rows}
        chosen={list.chosen}
        row={list.row}
        show={show}
        name={run?.name ?? (show === "drafts" ? "Drafts" : "Invoices")}
        onDone={list.forget}
        onOpen={open}
      />
    </>
  );
}

const soughtIn = (search: URLSearchParams): Sought => ({
  client: Number(search.get("client") ?? 0),
  engagement: Number(search.get("engagement") ?? 0),
  lead: Number(search.get("lead") ?? 0),
  run: Number(search.get("run") ?? 0),
  state: search.get("state") ?? "",
  from: search.get("from") ?? "",
  to: search.get("to") ?? "",
  atLeast: search.get("atLeast") ?? "",
  order: search.get("order") ?? "",
});

interface RegisterProps {
  sought: Sought;
  clients: [number, string][];
  runs: [number, string][];
  onSay: (change: Partial<Sought>) => void;
}

/** Which invoices of the register are shown. */
function RegisterSentence({ sought, clients, runs, onSay }: RegisterProps) {
  const { role } = useSession();
  const people = useRows("people");
  return (
    <>
      , to{" "}
      <SaidChoice
        label="Client"
        value={sought.client}
        choices={orAll(0, "all clients", clients)}
        onChange={(client) => onSay({ client })}
      />
      ,{" "}
      <SaidChoice label="State" value={sought.state} choices={registerStates} onChange={(state) => onSay({ state })} />
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

const orders = [
  { value: "", label: "newest first" },
  { value: "number", label: "by number" },
  { value: "due", label: "by what is due first" },
  { value: "client", label: "by client" },
  { value: "open", label: "most owed first" },
];

const whose: Column<Summary> = text("Client and engagements", (row) => row.client, {
  names: "light",
  title: (row) => row.engagements,
  cell: (row) => (
    <>
      {row.client}
      <span className="under">{row.engagements}</span>
    </>
  ),
});

const standing = (name: string): Column<Summary> =>
  text(name, (row) => row.number || stateWords[row.state], {
    title: undefined,
    cell: (row) => (
      <>
        <span className={tableCss.marked}>
          <FillMark state={row.state} /> {row.number || stateWords[row.state]}
        </span>
        {(row.beside || row.state === "part_paid") && (
          <span className="under">{row.beside || stateWords[row.state]}</span>
        )}
      </>
    ),
  });

const sums: Column<Summary>[] = [
  money("Net", (row) => row.net),
  money("Tax", (row) => row.tax, { bare: true }),
  money("Total, gross", (row) => row.total, { bare: true }),
];

const draftColumns: Column<Summary>[] = [
  standing("State"),
  whose,
  days("Dated", (row) => row.dated),
  days("Work up to", (row) => row.upTo),
  count("Entries", (row) => row.entries),
  ...sums,
  count("To settle", (row) => row.found, { cell: (row) => <Found row={row} /> }),
];

const registerColumns: Column<Summary>[] = [
  standing("Number"),
  whose,
  days("Dated", (row) => row.dated),
  days("Due", (row) => row.due),
  count("Days late", (row) => row.daysLate, { tone: (row) => row.daysLate > 0 && "lost" }),
  ...sums,
  money("Open, gross", (row) => row.open, { bare: true }),
];

/** How many findings a draft has; those that block its issue in brick. */
function Found({ row }: { row: Summary }) {
  if (row.found === 0) return <span className="soft">–</span>;
  return (
    <span className={row.blocking > 0 ? "lost" : ""} title={row.blocking > 0 ? `${row.blocking} of them block` : ""}>
      {row.found}
    </span>
  );
}

function InvoiceFolio({ summary }: { summary?: Summary }) {
  const invoice = useInvoice(summary?.id ?? 0);
  const money = useMoneyText();
  if (!summary)
    return (
      <Folio label="Invoice">
        <h2>Nothing chosen</h2>
      </Folio>
    );
  return (
    <Folio label="Invoice">
      <p className={deskCss.folioOver}>{summary.client}</p>
      <h2>{summary.number || "Draft"}</h2>
      <p className="soft">{summary.engagements}</p>
      <Facts>
        <Fact of="State">{[stateWords[summary.state], summary.beside].filter(Boolean).join(", ")}</Fact>
        <Fact of="Work up to">{long(summary.upTo)}</Fact>
        <Fact of="Due" tone={summary.daysLate > 0 ? "lost" : ""}>
          {long(summary.due)}
          {summary.daysLate > 0 && `, ${summary.daysLate} days late`}
        </Fact>
        <Fact of="Total, gross" sum>
          {invoice.data ? (
            <Explained step={invoice.data.explanation} label="Total">
              {money(summary.total)}
            </Explained>
          ) : (
            money(summary.total)
          )}
        </Fact>
        <Fact of="Open, gross">{summary.open.minor !== 0 && money(summary.open)}</Fact>
      </Facts>
      {invoice.data?.findings.map((finding) => (
        <p
          className={finding.level === "block" ? deskCss.findingBox : deskCss.noteBox}
          key={`${finding.code}-${finding.subjectId}`}
        >
          <b>{finding.title}</b> {finding.text}
        </p>
      ))}
      {invoice.data && <Issued invoice={invoice.data} />}
      {invoice.data?.hasFile && (
        <p>
          <a href={`/api/invoices/${summary.id}/document.pdf`}>Save the PDF</a>
        </p>
      )}
      <History subject="invoices" id={summary.id} />
    </Folio>
  );
}
