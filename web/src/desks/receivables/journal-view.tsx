import { Button } from "antd";
import { Link, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Money, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { SaidDate, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { Refused } from "./money-fields";
import { MoneyViews } from "./views";

type Line = Schema["JournalLine"];

const useJournal = (from: string, to: string) => useRead("/api/journal", { query: { from, to } }, { keeps: true });

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
  const journal = useJournal(from, to);
  const say = (change: Record<string, string>) => setSearch({ show: "journal", from, to, ...change });
  const lines = journal.data?.lines ?? [];
  const unmapped = journal.data?.unmapped ?? [];
  const period = new URLSearchParams({ from, to });
  return (
    <>
      <div className="desk-main">
        <div className="title-line">
          <h1>Journal for the bookkeeper</h1>
          <MoneyViews />
        </div>
        <Sentence>
          Everything posted from <SaidDate label="From" value={from} onChange={(day) => say({ from: day })} /> to{" "}
          <SaidDate label="To" value={to} onChange={(day) => say({ to: day })} />, in {currency}
        </Sentence>
        <Refused by={journal.error} />
        {lines.length === 0 ? (
          <p className="empty">{journal.isPending ? "" : "No money moved in this time. Choose other days."}</p>
        ) : (
          <section className="sheet" aria-label="Journal">
            <JournalTable lines={lines.slice(0, shownLines)} currency={currency} />
          </section>
        )}
        {lines.length > shownLines && (
          <p className="soft">
            And {lines.length - shownLines} more lines: the file has all of them, and the sums below count all.
          </p>
        )}
      </div>
      <Folio label="Accounts">
        <h2>Accounts</h2>
        {unmapped.length > 0 && (
          <p className="finding-box">
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
        actions={
          <>
            <Button href={`/api/journal/export?form=xlsx&${period}`} disabled={unmapped.length > 0 || !lines.length}>
              XLSX
            </Button>
            <Button
              type="primary"
              href={`/api/journal/export?form=csv&${period}`}
              disabled={unmapped.length > 0 || !lines.length}
            >
              Journal as CSV
            </Button>
          </>
        }
      >
        <TallySum figure={journal.data?.entries ?? 0} what="entries" />
        <TallySum figure={lines.length} what="lines" />
        {journal.data && <TallySum figure={<Money of={journal.data.debit} />} what="debit, and the same in credit" />}
        {unmapped.length > 0 && <TallySum lost figure={unmapped.length} what="without an account" />}
      </Tally>
    </>
  );
}

const shownLines = 500;

function JournalTable({ lines, currency }: { lines: Line[]; currency: string }) {
  const money = useMoneyText();
  return (
    <table className="grid journal">
      <thead>
        <tr>
          <th scope="col">Date</th>
          <th scope="col">Document</th>
          <th scope="col">Client</th>
          <th scope="col">Posted to</th>
          <th scope="col">Account</th>
          <th scope="col" className="number">
            Debit
          </th>
          <th scope="col" className="number">
            Credit
          </th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line, index) => {
          const before = lines[index - 1];
          const begins = before?.entry !== line.entry || before.document !== line.document;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a journal only grows
            <tr key={index} className={begins ? "begins" : ""} title={line.text}>
              <td className="nowrap">{begins && long(line.day)}</td>
              <td className="nowrap">
                {begins && (line.invoiceId ? <Link to={`/billing/${line.invoiceId}`}>{line.document}</Link> : "")}
              </td>
              <td>{begins && line.client}</td>
              <td>
                {line.posting}
                {line.amount.currency !== currency && (
                  <span className="soft">
                    , {line.amount.currency} {money(line.amount, true)}
                  </span>
                )}
              </td>
              <td>{line.account || <span className="lost">none</span>}</td>
              <td className="number">{line.debit.minor !== 0 && <Money of={line.debit} />}</td>
              <td className="number">{line.credit.minor !== 0 && <Money of={line.credit} />}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
