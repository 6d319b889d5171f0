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
  const sums: [string, Schema["Amount"]][] = [
    ["Subtotal", t.lines],
    ...t.taxes.flatMap((code) =>
      code.parts.map((part): [string, Schema["Amount"]] => [
        `${part.name} ${percent(part.percent)} % on ${money(part.base, true)}`,
        part.tax,
      ]),
    ),
  ];
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
              Invoice{" "}
              <span data-testid="document-number">{doc.number || <span className="draft-word">draft</span>}</span>
            </b>
            <div>{long(doc.dated)}</div>
            <div>due {long(doc.due)}</div>
          </div>
        </div>
        {doc.sections.map((section) => (
          <table key={section.title}>
            <thead>
              <tr>
                <th scope="col" colSpan={2}>
                  {section.title}
                  {section.reference && `, ${section.reference}`}
                </th>
                <th scope="col" className="number">
                  Hours
                </th>
                <th scope="col" className="number">
                  Amount
                </th>
              </tr>
            </thead>
            <tbody>
              {section.lines.map((line, index) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the document is drawn whole
                <tr key={index}>
                  <td className="nowrap">{short(line.day)}</td>
                  <td>
                    {line.text}
                    {line.note && <span className="soft">, {line.note}</span>}
                  </td>
                  <td className="number">{line.hours}</td>
                  <td className="number">{money(line.amount, true)}</td>
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
            <tr className="strong">
              <th scope="row">Amount due</th>
              <td className="number">
                <Explained step={explanation} label="Amount due">
                  {money(t.due, true)}
                </Explained>
              </td>
            </tr>
          </tbody>
        </table>
        {t.taxes.map((code) => code.notice && <p key={code.code}>{code.notice}</p>)}
        <p className="soft">
          Please pay {doc.currency} {money(t.due, true)} by {long(doc.due)}. {doc.bank.name}, IBAN {doc.bank.iban}.
        </p>
      </article>
    </aside>
  );
}
