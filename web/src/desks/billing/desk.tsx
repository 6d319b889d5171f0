import { Button } from "antd";
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
import { Tally, TallySum } from "../../frame/tally";
import { Issued } from "./issued";
import { type Summary, useDrafts, useInvoice, useRegister } from "./use-billing";

type Shown = "drafts" | "register";

/** Drafts to review, and the register of every invoice ever issued. */
export function BillingDesk() {
  const { role } = useSession();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const show: Shown = search.get("show") === "register" ? "register" : "drafts";
  const sought = {
    client: Number(search.get("client") ?? 0),
    state: search.get("state") ?? "",
    order: search.get("order") ?? "",
  };
  const drafts = useDrafts();
  const register = useRegister(sought);
  const everyone = useRegister({ client: 0, state: "", order: "" });
  const say = (change: Partial<typeof sought>) => {
    setCurrent(0);
    const said = { ...sought, ...change };
    const kept = Object.entries(said).filter(([, value]) => value);
    setSearch({ show, ...Object.fromEntries(kept.map(([name, value]) => [name, String(value)])) });
  };
  const rows = (show === "drafts" ? drafts.data : register.data) ?? [];
  const [current, setCurrent] = useState(0);
  const row = rows[Math.min(current, rows.length - 1)];
  const clients = new Map((everyone.data ?? []).map((i) => [i.clientId, i.client] as const));
  const open = (id: number) => navigate(`/billing/${id}`);
  return (
    <>
      <div className="desk-main">
        <h1>{show === "drafts" ? "Drafts to review" : "Register of invoices"}</h1>
        <Sentence>
          Show{" "}
          <SaidChoice
            label="Show"
            value={show}
            choices={[
              { value: "drafts", label: "drafts still to be issued" },
              { value: "register", label: "everything ever issued" },
            ]}
            onChange={(next) => {
              setCurrent(0);
              setSearch({ show: next });
            }}
          />
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
        <InvoiceList
          rows={rows}
          show={show}
          current={current}
          onMove={setCurrent}
          onOpen={open}
          loading={drafts.isPending || register.isPending}
        />
      </div>
      <InvoiceFolio summary={row} />
      <Tally
        actions={
          <>
            {role === "administrator" && <Button onClick={() => navigate("/billing/new")}>Begin an invoice</Button>}
            {row && (
              <Button type="primary" onClick={() => open(row.id)}>
                {show === "drafts" ? "Review this draft" : `Open ${row.number}`}
              </Button>
            )}
          </>
        }
      >
        <TallySum
          figure={rows.length}
          what={(show === "drafts" ? "draft" : "invoice") + (rows.length === 1 ? "" : "s")}
        />
        {show === "register" && <TallySum lost figure={rows.filter((r) => r.daysLate > 0).length} what="late" />}
      </Tally>
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
  loading: boolean;
  onMove: (index: number) => void;
  onOpen: (id: number) => void;
}

function InvoiceList({ rows, show, current, loading, onMove, onOpen }: ListProps) {
  const keys = useListKeys(rows, current, onMove, {
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
            {show === "register" && (
              <th scope="col" className="number">
                Open, gross
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <tr
              key={row.id}
              data-row={index}
              className={index === current ? "current open" : ""}
              onClick={() => onMove(index)}
              onDoubleClick={() => onOpen(row.id)}
            >
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
              {show === "register" && (
                <td className="number">
                  <Money of={row.open} bare />
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
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
      {invoice.data && <Issued invoice={invoice.data} />}
      {invoice.data?.hasFile && (
        <p>
          <a href={`/api/invoices/${summary.id}/document.pdf`}>Download the PDF</a>
        </p>
      )}
      <History subject="invoices" id={summary.id} />
    </Folio>
  );
}
