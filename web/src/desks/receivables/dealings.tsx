import { Link } from "react-router";
import { instant, long } from "../../frame/days";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import historyCss from "../../frame/history.module.css";
import { Refused } from "../../frame/state";
import { type Dealt, useDealings, useLift } from "./use-reminding";

/** So many are read, the latest; so many of them are shown at once. */
const most = 200;
const shown = 12;

/** All that was said with a client about money, the latest first, with what is left alone above it. */
export function Dealings({ client, mayAct }: { client: number; mayAct: boolean }) {
  const dealings = useDealings(client).data;
  const lift = useLift();
  if (!dealings) return null;
  return (
    <section aria-label="Said and written" className={historyCss.history}>
      <h2 className="sub">Said and written</h2>
      <Refused by={lift.error} />
      {dealings.holds.map((hold) => (
        <p key={hold.id}>
          {hold.number || "All of it"} is left alone{hold.until && ` until ${long(hold.until)}`}: {hold.reason}.{" "}
          {mayAct && <Do onClick={() => lift.mutate(hold.id)}>Go on reminding</Do>}
        </p>
      ))}
      {dealings.dealings.length === 0 && <p className="soft">Nothing yet.</p>}
      <Listed rows={dealings.dealings.slice(0, shown)} />
      {dealings.dealings.length > shown && (
        <details>
          <summary className="link">and {dealings.dealings.length - shown} more</summary>
          <Listed rows={dealings.dealings.slice(shown)} />
        </details>
      )}
      {dealings.dealings.length === most && <p className="soft">What is older stands under Letters and Payments.</p>}
    </section>
  );
}

const Listed = ({ rows }: { rows: Dealt[] }) => (
  <ol>
    {rows.map((one) => (
      <li key={`${one.what} ${one.at} ${one.numbers} ${one.who}`}>
        <Words of={one} />
        <span className="soft">{instant(one.at)}</span>
      </li>
    ))}
  </ol>
);

const letterWords: Record<string, string> = {
  invoice: "Invoice",
  credit_note: "Credit note",
  deposit: "Deposit request",
  receipt: "Receipt",
  statement: "Statement",
  reminder: "Reminder",
};

const stateWords: Record<string, string> = {
  queued: "on its way",
  taken: "taken by the mail server",
  arrived: "arrived",
  failed: "came back",
  called_back: "called back",
  posted: "posted",
  saved: "fetched here",
};

const callWords: Record<string, string> = {
  promised: "they promised to pay",
  unreached: "nobody was reached",
  asked: "they look after it",
  disputes: "they say that something is wrong",
};

const saidWords: Record<string, string> = { question: "asks about", dispute: "disputes", promise: "will pay" };

function Words({ of }: { of: Dealt }) {
  const numbers = of.invoiceId ? <Link to={`/billing/${of.invoiceId}`}>{of.numbers}</Link> : of.numbers;
  switch (of.what) {
    case "letter":
      return (
        <>
          {letterWords[of.kind] ?? "Letter"}, {numbers}
          {of.who && `, to ${of.who}`}: {stateWords[of.state]}
        </>
      );
    case "said":
      return (
        <>
          {of.who} {saidWords[of.kind]} {numbers}
          {of.day && ` on ${long(of.day)}`}
          {of.text && `: ${of.text}`}
        </>
      );
    case "call":
      return (
        <>
          Called{of.who && ` ${of.who}`}: {callWords[of.kind]}
          {of.day && ` on ${long(of.day)}`}
          {of.text && `. ${of.text}`}
        </>
      );
    case "payment":
      return (
        <>
          {of.amount.minor < 0 ? "Paid back or reversed" : "Received"} <Money of={of.amount} />
          {numbers && `, ${of.numbers}`}
        </>
      );
    default:
      return (
        <>
          {numbers || "All of it"} left alone{of.day && ` until ${long(of.day)}`}: {of.text}
          {of.kind === "lifted" && "; lifted since"}
        </>
      );
  }
}
