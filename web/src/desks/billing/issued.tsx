import { Button, Input } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { Link } from "react-router";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import { FillMark } from "../../frame/fill-mark";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { acts as money, useMoneyAct } from "../receivables/use-receivables";
import reviewCss from "./review.module.css";
import { changes, type Invoice, type useDraftActs } from "./use-billing";

/** What became of an issued invoice: its instalments, what settled it, its credit notes. */
export function Issued({ invoice, mayAct = false }: { invoice: Invoice; mayAct?: boolean }) {
  const act = useMoneyAct<Invoice>();
  return (
    <div className={reviewCss.issued}>
      {invoice.credits && (
        <p>
          Credits{" "}
          <Link to={`/billing/${invoice.credits.id}`}>
            {invoice.credits.number} of {long(invoice.credits.dated)}
          </Link>
          .
        </p>
      )}
      {invoice.instalments.length > 0 && (
        <table className={clsx(tableCss.grid, reviewCss.parts)}>
          <caption>{invoice.instalments.length > 1 ? "Instalments" : "What is owed"}</caption>
          <tbody>
            {invoice.instalments.map((part, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: instalments are numbered
              <tr key={index}>
                <th scope="row" className="light">
                  due {long(part.due)}
                  {part.daysLate > 0 && <span className="lost">, {part.daysLate} days late</span>}
                  {invoice.instalments.length > 1 && <span className="under">{part.words}</span>}
                </th>
                <td className="number">
                  <Money of={part.amount} />
                </td>
                <td className="number">
                  {part.open.minor === 0 ? (
                    <span className="soft">settled</span>
                  ) : (
                    <>
                      <Money of={part.open} /> <span className="soft">open</span>
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {invoice.money.length > 0 && (
        <table className={clsx(tableCss.grid, reviewCss.parts)}>
          <caption>What settled it</caption>
          <tbody>
            {invoice.money.map((line, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a ledger only grows
              <tr key={index}>
                <th scope="row" className="light">
                  {long(line.day)}
                </th>
                <td>
                  {line.paymentId ? (
                    <Link to={`/receivables?show=payments&payment=${line.paymentId}`}>{line.text}</Link>
                  ) : (
                    line.text
                  )}
                </td>
                <td className="number">
                  <Money of={line.amount} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {mayAct && invoice.money.some((line) => line.since) && (
        <p>
          <Do onClick={() => act.mutate(money.takeBack(invoice.id))}>Take funds and credit off it again</Do>
          <Refused by={act.error} inline />
        </p>
      )}
      {invoice.notes.length > 0 && (
        <table className={clsx(tableCss.grid, reviewCss.parts)}>
          <caption>Credit notes</caption>
          <tbody>
            {invoice.notes.map((note) => (
              <tr key={note.id}>
                <th scope="row" className="light">
                  <Link to={`/billing/${note.id}`} className={tableCss.marked}>
                    <FillMark state={note.state} /> {note.number}
                  </Link>
                </th>
                <td>{long(note.dated)}</td>
                <td className="number">
                  <Money of={note.total} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** Notes that the client disputes the invoice, and why; or that they do no more. */
export function Dispute({ invoice, acts }: { invoice: Invoice; acts: ReturnType<typeof useDraftActs> }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const say = (why: string) => acts.change.mutate(changes.dispute(why), { onSuccess: () => setOpen(false) });
  if (invoice.disputed)
    return (
      <p className={deskCss.findingBox}>
        <b>Disputed:</b> {invoice.disputed} <Do onClick={() => say("")}>Settled, no more</Do>
      </p>
    );
  if (!open) return <Do onClick={() => setOpen(true)}>The client disputes it</Do>;
  return (
    <p className={reviewCss.feeBill}>
      <label>
        What do they dispute?{" "}
        <Input
          size="small"
          autoFocus
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          onPressEnter={() => say(reason)}
        />
      </label>
      <Button size="small" disabled={!reason.trim()} onClick={() => say(reason)}>
        Note the dispute
      </Button>
    </p>
  );
}
