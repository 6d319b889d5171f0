import { Button } from "antd";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Amount, Schema } from "../../api/client";
import { reading } from "../../api/read";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Money, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, usePagedList } from "../../frame/list/use-list";
import { usePages } from "../../frame/list/use-pages";
import { SaidDate, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { useSettled } from "../../frame/use-settled";
import receivablesCss from "./receivables.module.css";
import { MoneyViews } from "./views";

type Line = Schema["JournalLine"];

const useJournal = (asked: { from: string; to: string; text: string }) =>
  usePages<Schema["Journal"], Line>(
    (part) => reading("/api/journal", { query: { ...asked, ...part } }, { keeps: true }),
    (page) => page.lines,
  );

const iso = (year: number, month: number, day: number) =>
  new Date(Date.UTC(year, month, day)).toISOString().slice(0, 10);

/** The month before a day: what is given to a bookkeeper at its beginning. */
function lastMonth(today: string): [string, string] {
  const [year = 0, month = 1] = today.split("-").map(Number);
  return [iso(year, month - 2, 1), iso(year, month - 1, 0)];
}

/** What the bookkeeper posts for a period: every movement of money, debit and credit, under the firm's accounts. */
export function JournalView() {
  const { today, currency } = useSession();
  const [search, setSearch] = useSearchParams();
  const [first, last] = lastMonth(today);
  const from = search.get("from") ?? first;
  const to = search.get("to") ?? last;
  const [text, setText] = useState("");
  const asked = { from, to, text: useSettled(text, 150) };
  const pages = useJournal(asked);
  const { whole } = pages;
  const say = (change: Record<string, string>) => setSearch({ show: "journal", from, to, ...change });
  const said = useMoneyText();
  const list = usePagedList({
    name: "journal",
    columns: columns(currency, said),
    id: (line: Line) => line.place,
    of: asked,
    filter: { sought: text, setSought: setText, waits: text !== asked.text || pages.waits },
    sums: whole && { Debit: <Money of={whole.debit} />, Credit: <Money of={whole.credit} /> },
    among: whole?.among,
    ...pages,
  });
  const unmapped = whole?.unmapped ?? [];
  const complete = unmapped.length === 0 && !!whole?.among;
  const period = new URLSearchParams({ from, to });
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Journal</Title>
        <Sentence>
          Everything posted from <SaidDate label="From" value={from} onChange={(day) => say({ from: day })} /> to{" "}
          <SaidDate label="To" value={to} onChange={(day) => say({ to: day })} />, in {currency}
        </Sentence>
        <List
          main
          label="Journal"
          list={list}
          read={pages.read}
          className={receivablesCss.journal}
          tone={({ begins }) => begins && receivablesCss.begins}
          empty={<p>No money moved in this time. Choose other days.</p>}
        />
      </div>
      <Folio label="Accounts">
        <h2>Accounts</h2>
        {unmapped.length > 0 && (
          <p className={deskCss.findingBox}>
            <b>Without an account yet:</b> {unmapped.join(", ")}. Give each one before the file is made.
          </p>
        )}
        <p>
          Each posting goes to the account that your bookkeeper has for it: set under{" "}
          <Link to="/set-up/ledger-accounts">Accounts of the journal</Link>; a{" "}
          <Link to="/set-up/tax-codes">tax code</Link> can have one of its own.
        </p>
        <p>
          Revenue is posted as it was charged for, with discounts and surcharges by themselves; money held for clients
          stays a debt until a bill takes it. Every entry balances, at the exchange rate that was kept with it.
        </p>
      </Folio>
      <Tally
        of={pages.read}
        actions={
          <>
            <Button href={`/api/journal/export?form=xlsx&${period}`} disabled={!complete}>
              XLSX
            </Button>
            <Button type="primary" href={`/api/journal/export?form=csv&${period}`} disabled={!complete}>
              Journal as CSV
            </Button>
          </>
        }
      >
        <TallySum figure={whole?.entries ?? 0} what="entries" />
        <TallySum figure={pages.total} what="lines" />
        {whole && (
          <TallySum figure={<Money of={whole.debit} />} what={asked.text ? "debit" : "debit, and the same in credit"} />
        )}
        {unmapped.length > 0 && <TallySum lost figure={unmapped.length} what="without an account" />}
      </Tally>
    </>
  );
}

const columns = (currency: string, said: (amount: Amount, bare?: boolean) => string): Column<Line>[] => [
  days("Date", (line) => line.day, { by: undefined, cell: (line) => line.begins && long(line.day) }),
  text("Document", (line) => line.document, {
    by: undefined,
    whole: true,
    cell: (line) =>
      line.begins && line.invoiceId !== 0 && <Link to={`/billing/${line.invoiceId}`}>{line.document}</Link>,
  }),
  text("Client", (line) => line.client, { by: undefined, cell: (line) => line.begins && line.client }),
  text("Posted to", (line) => line.posting, {
    by: undefined,
    title: (line) => line.text,
    cell: (line) => (
      <>
        {line.posting}
        {line.amount.currency !== currency && (
          <span className="soft">
            , {line.amount.currency} {said(line.amount, true)}
          </span>
        )}
      </>
    ),
  }),
  text("Account", (line) => line.account, {
    by: undefined,
    cell: (line) => line.account || <span className="lost">none</span>,
  }),
  money("Debit", (line) => (line.debit.minor !== 0 ? line.debit : undefined), { by: undefined }),
  money("Credit", (line) => (line.credit.minor !== 0 ? line.credit : undefined), { by: undefined }),
];
