import { Checkbox } from "antd";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Explained, openExplanation } from "../../frame/explain";
import { Money, useMoneyText } from "../../frame/figure";
import { FillMark, stateWords } from "../../frame/fill-mark";
import { Folio } from "../../frame/folio";
import { History } from "../../frame/history";
import { useListKeys } from "../../frame/keys";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Issued } from "./issued";
import { ManyTally } from "./many-tally";
import { onLines } from "./review-lines";
import { RunPane } from "./run-pane";
import { type Summary, useDrafts, useInvoice, useRegister } from "./use-billing";
import { useRuns } from "./use-run";

export type Shown = "drafts" | "register";

/** Drafts to review, by run, and the register of every invoice ever issued. */
export function BillingDesk() {
  const { role } = useSession();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const show: Shown = search.get("show") === "register" ? "register" : "drafts";
  const runId = Number(search.get("run") ?? 0);
  const sought = {
    client: Number(search.get("client") ?? 0),
    state: search.get("state") ?? "",
    order: search.get("order") ?? "",
  };
  const drafts = useDrafts(runId);
  const register = useRegister(sought);
  const everyone = useRegister({ client: 0, state: "", order: "" });
  const runs = useRuns(role !== "lead");
  const [chosen, setChosen] = useState<Set<number>>(new Set());
  const [current, setCurrent] = useState(0);
  const turnTo = (params: Record<string, string>) => {
    setCurrent(0);
    setChosen(new Set());
    setSearch(params);
  };
  const say = (change: Partial<typeof sought>) => {
    const kept = Object.entries({ ...sought, ...change }).filter(([, value]) => value);
    turnTo({ show, ...Object.fromEntries(kept.map(([name, value]) => [name, String(value)])) });
  };
  const rows = (show === "drafts" ? drafts.data : register.data) ?? [];
  const row = rows[Math.min(current, rows.length - 1)];
  const clients = new Map((everyone.data ?? []).map((i) => [i.clientId, i.client] as const));
  const open = (id: number) => navigate(`/billing/${id}`, onLines);
  const run = runs.data?.find((r) => r.id === runId);
  return (
    <>
      <div className="desk-main">
        <h1>{show === "drafts" ? (run?.name ?? "Drafts to review") : "Register of invoices"}</h1>
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
                choices={[
                  { value: 0, label: "every run, and without one" },
                  ...(runs.data ?? []).map((r) => ({ value: r.id, label: r.name })),
                ]}
                onChange={(id) => turnTo(id ? { run: String(id) } : {})}
              />
            </>
          )}
          {show === "register" && (
            <>
              , to{" "}
              <SaidChoice
                label="Client"
                value={sought.client}
                choices={[
                  { value: 0, label: "all clients" },
                  ...[...clients].map(([value, label]) => ({ value, label })),
                ]}
                onChange={(id) => say({ client: id })}
              />
              ,{" "}
              <SaidChoice
                label="State"
                value={sought.state}
                choices={registerStates}
                onChange={(state) => say({ state })}
              />
              , <SaidChoice label="Order" value={sought.order} choices={orders} onChange={(order) => say({ order })} />
            </>
          )}
        </Sentence>
        {run && show === "drafts" && (
          <RunPane key={`${run.id}-${run.version}`} run={run} mayAct={role === "administrator" && !run.kept} />
        )}
        <InvoiceList
          rows={rows}
          show={show}
          current={current}
          chosen={chosen}
          onChoose={setChosen}
          onMove={setCurrent}
          onOpen={open}
          loading={drafts.isPending || register.isPending}
        />
      </div>
      <InvoiceFolio summary={row} />
      <ManyTally
        rows={rows}
        chosen={rows.filter((r) => chosen.has(r.id))}
        row={row}
        show={show}
        name={run?.name ?? (show === "drafts" ? "Drafts" : "Invoices")}
        onDone={() => setChosen(new Set())}
        onOpen={open}
      />
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

interface ListProps {
  rows: Summary[];
  show: Shown;
  current: number;
  chosen: Set<number>;
  loading: boolean;
  onChoose: (ids: Set<number>) => void;
  onMove: (index: number) => void;
  onOpen: (id: number) => void;
}

function InvoiceList({ rows, show, current, chosen, loading, onChoose, onMove, onOpen }: ListProps) {
  const flip = (row: Summary) => {
    const next = new Set(chosen);
    if (!next.delete(row.id)) next.add(row.id);
    onChoose(next);
  };
  const keys = useListKeys(rows, current, onMove, {
    x: flip,
    f: (row) => {
      const from = rows.indexOf(row) + 1;
      const next = [...rows.slice(from), ...rows.slice(0, from)].find((r) => r.found > 0);
      if (next) onMove(rows.indexOf(next));
    },
    Enter: (row) => onOpen(row.id),
    "=": () => openExplanation(document.querySelector(".folio")),
    "/": () => document.querySelector<HTMLElement>("[data-sentence] input")?.focus(),
  });
  if (rows.length === 0)
    return (
      <p className="empty">
        {loading
          ? ""
          : show === "drafts"
            ? "No drafts. Choose what to bill under Work in progress, or begin a single invoice."
            : "No invoice is like this. Choose another state or client, or issue a draft."}
      </p>
    );
  return (
    <section className="sheet" aria-label={show === "drafts" ? "Drafts" : "Invoices"} {...keys}>
      <table className="grid invoices">
        <thead>
          <tr>
            <th scope="col" className="box">
              <Checkbox
                aria-label="Select everything"
                checked={chosen.size > 0 && rows.every((row) => chosen.has(row.id))}
                indeterminate={chosen.size > 0 && !rows.every((row) => chosen.has(row.id))}
                onChange={(event) => onChoose(new Set(event.target.checked ? rows.map((row) => row.id) : []))}
              />
            </th>
            <th scope="col">{show === "drafts" ? "State" : "Number"}</th>
            <th scope="col">Client and engagements</th>
            <th scope="col">Dated</th>
            <th scope="col">{show === "drafts" ? "Work up to" : "Due"}</th>
            <th scope="col" className="number">
              {show === "drafts" ? "Entries" : "Days late"}
            </th>
            <th scope="col" className="number">
              Net
            </th>
            <th scope="col" className="number">
              Tax
            </th>
            <th scope="col" className="number">
              Total, gross
            </th>
            <th scope="col" className="number">
              {show === "register" ? "Open, gross" : "To settle"}
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <tr
              key={row.id}
              data-row={index}
              className={[index === current ? "current open" : "", chosen.has(row.id) ? "picked" : ""].join(" ")}
              onClick={() => onMove(index)}
              onDoubleClick={() => onOpen(row.id)}
            >
              <td className="box">
                <Checkbox
                  tabIndex={-1}
                  aria-label={`Select ${row.number || row.client}`}
                  checked={chosen.has(row.id)}
                  onChange={() => flip(row)}
                />
              </td>
              <td>
                <span className="marked">
                  <FillMark state={row.state} /> {row.number || stateWords[row.state]}
                </span>
                {(row.beside || row.state === "part_paid") && (
                  <span className="under">{row.beside || stateWords[row.state]}</span>
                )}
              </td>
              <th scope="row" className="light">
                {row.client}
                <span className="under">{row.engagements}</span>
              </th>
              <td>{long(row.dated)}</td>
              <td>{long(show === "drafts" ? row.upTo : row.due)}</td>
              <td className={row.daysLate > 0 ? "number lost" : "number"}>
                {show === "drafts" ? row.entries : row.daysLate || "–"}
              </td>
              <td className="number">
                <Money of={row.net} />
              </td>
              <td className="number">
                <Money of={row.tax} bare />
              </td>
              <td className="number">
                <Money of={row.total} bare />
              </td>
              <td className="number">{show === "register" ? <Money of={row.open} bare /> : <Found row={row} />}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

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
      <p className="folio-over">{summary.client}</p>
      <h2>{summary.number || "Draft"}</h2>
      <p className="soft">{summary.engagements}</p>
      <table className="plain">
        <tbody>
          <tr>
            <th scope="row">State</th>
            <td className="number">{[stateWords[summary.state], summary.beside].filter(Boolean).join(", ")}</td>
          </tr>
          <tr>
            <th scope="row">Work up to</th>
            <td className="number">{long(summary.upTo)}</td>
          </tr>
          <tr>
            <th scope="row">Due</th>
            <td className={summary.daysLate > 0 ? "number lost" : "number"}>
              {long(summary.due)}
              {summary.daysLate > 0 && `, ${summary.daysLate} days late`}
            </td>
          </tr>
          <tr className="sum-row">
            <th scope="row">Total, gross</th>
            <td className="number">
              {invoice.data ? (
                <Explained step={invoice.data.explanation} label="Total">
                  {money(summary.total)}
                </Explained>
              ) : (
                money(summary.total)
              )}
            </td>
          </tr>
          {summary.open.minor !== 0 && (
            <tr>
              <th scope="row">Open, gross</th>
              <td className="number">{money(summary.open)}</td>
            </tr>
          )}
        </tbody>
      </table>
      {invoice.data?.findings.map((finding) => (
        <p
          className={finding.level === "block" ? "finding-box" : "note-box"}
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
