import type { Schema, Step } from "../../api/client";
import { long, short } from "../../frame/days";
import { Explained } from "../../frame/explain";
import { fixed, useMoneyText } from "../../frame/figure";

type Doc = Schema["Document"];

const percent = (tenThousandths: number) => fixed(tenThousandths, 4).replace(/\.?0+$/, "");

/** The invoice as the client will see it; every figure on it comes from the server. */
export function LiveDocument({ document: doc, explanation }: { document: Doc; explanation: Step }) {
  const money = useMoneyText();
  const t = doc.totals;
  const shows = (column: string) => doc.columns.includes(column);
  const minus = (of: Schema["Amount"]) => ({ ...of, minor: -of.minor });
  const some = (label: string, of: Schema["Amount"]): [string, Schema["Amount"]][] => (of.minor ? [[label, of]] : []);
  const sums: [string, Schema["Amount"]][] = [
    ["Subtotal", t.lines],
    ...some("Discount", minus(t.discount)),
    ...some(`Surcharge, ${percent(t.surchargePercent)} % of fees`, t.surcharge),
    ...t.taxes.flatMap((code) =>
      code.parts.map((part): [string, Schema["Amount"]] => [
        `${part.name} ${percent(part.percent)} % on ${money(part.base, true)}`,
        part.tax,
      ]),
    ),
  ];
  const less = [
    ...some("Withheld", minus(t.withholding)),
    ...some("Your credit", minus(t.credit)),
    ...some("From funds held for you", minus(t.funds)),
  ];
  const title = { credit_note: "Credit note", deposit_request: "Deposit request" }[doc.kind] ?? "Invoice";
  const isNote = doc.kind === "credit_note";
  return (
    <aside className="document-side" aria-label="As the client will see it">
      <p className="folio-over">As the client will see it{doc.number ? "" : ", if it were issued now"}</p>
      <article className="document">
        <header>
          <h2>{doc.issuer.name}</h2>
          <address>
            {[...doc.issuer.address, doc.issuer.taxNumber].map((line) => (
              <div key={line}>{line}</div>
            ))}
          </address>
        </header>
        <div className="document-facts">
          <address>
            <b>{doc.client.name}</b>
            {doc.client.address.map((line) => (
              <div key={line}>{line}</div>
            ))}
          </address>
          <div className="number">
            <b>
              {title}{" "}
              <span data-testid="document-number">{doc.number || <span className="draft-word">draft</span>}</span>
            </b>
            <div>{long(doc.dated)}</div>
            {isNote ? <div>credits {doc.credits}</div> : <div>due {long(doc.due)}</div>}
          </div>
        </div>
        <Words text={doc.opening} />
        {doc.sections.map((section) => (
          <table key={section.title}>
            <thead>
              <tr>
                <th scope="col" colSpan={2}>
                  {section.title}
                  {section.reference && `, ${section.reference}`}
                </th>
                {shows("hours") && (
                  <th scope="col" className="number">
                    Hours
                  </th>
                )}
                {shows("rate") && (
                  <th scope="col" className="number">
                    Rate
                  </th>
                )}
                <th scope="col" className="number">
                  Amount
                </th>
              </tr>
            </thead>
            <tbody>
              {section.lines.map((line, index) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the document is drawn whole
                <tr key={index} className={line.covered ? "soft" : ""}>
                  <td className="nowrap">{shows("date") && line.day ? short(line.day) : ""}</td>
                  <td>
                    {shows("who") && line.who && <span className="soft">{line.who} · </span>}
                    {line.text}
                    {line.note && <span className="soft">, {line.note}</span>}
                  </td>
                  {shows("hours") && <td className="number">{line.hours}</td>}
                  {shows("rate") && <td className="number">{line.rate}</td>}
                  <td className="number">{line.covered ? "" : money(line.amount, true)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ))}
        <table className="document-sums">
          <tbody>
            {sums.map(([label, amount]) => (
              <tr key={label}>
                <th scope="row">{label}</th>
                <td className="number">{money(amount, true)}</td>
              </tr>
            ))}
            <tr className="strong">
              <th scope="row">Total {doc.currency}</th>
              <td className="number" data-testid="document-total">
                {money(t.total, true)}
              </td>
            </tr>
            {less.map(([label, amount]) => (
              <tr key={label}>
                <th scope="row">{label}</th>
                <td className="number">{money(amount, true)}</td>
              </tr>
            ))}
            <tr className="strong">
              <th scope="row">{isNote ? "Credited" : "Amount due"}</th>
              <td className="number">
                <Explained step={explanation} label="Amount due">
                  {money(t.due, true)}
                </Explained>
              </td>
            </tr>
          </tbody>
        </table>
        {t.taxes.map((code) => code.notice && <p key={code.code}>{code.notice}</p>)}
        {!isNote && <HowToPay document={doc} />}
        {doc.funds && (
          <p className="soft">
            Held for you: {money(doc.funds.opening, true)}
            {doc.funds.movements.length > 0 && <>; still held after this invoice: {money(doc.funds.closing, true)}</>}.
          </p>
        )}
        {doc.earlier && <p className="soft">Owed on earlier invoices: {money(doc.earlier, true)}.</p>}
        <Words text={doc.closing} />
        <Words text={doc.note} />
      </article>
    </aside>
  );
}

/** A text with its own line breaks, or nothing. */
function Words({ text }: { text?: string }) {
  return text ? <p className="words">{text}</p> : null;
}

/** In one amount or in instalments, each with its day, and where to. */
function HowToPay({ document: doc }: { document: Doc }) {
  const money = useMoneyText();
  return (
    <>
      {doc.payable.length > 1 && (
        <table className="document-parts">
          <tbody>
            {doc.payable.map((part, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: instalments are numbered
              <tr key={index}>
                <th scope="row">
                  {index + 1} of {doc.payable.length}, by {long(part.due)}
                </th>
                <td className="number">{money(part.amount, true)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="soft">
        {doc.payable.length === 1 && doc.totals.due.minor !== 0 && (
          <>
            Please pay {doc.currency} {money(doc.totals.due, true)} by {long(doc.due)}.{" "}
          </>
        )}
        {doc.bank.name}, IBAN {doc.bank.iban}.
      </p>
    </>
  );
}
