import { lazy, Suspense } from "react";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Explained } from "../../frame/explain";
import { Fact, Facts } from "../../frame/facts";
import { useMoneyText } from "../../frame/figure";
import { stateWords } from "../../frame/fill-mark";
import { Folio } from "../../frame/folio";
import { History } from "../../frame/history";
import { Issued } from "./issued";
import { type Summary, useInvoice } from "./use-billing";
import { handedWords } from "./use-delivery";

const Claims = lazy(async () => ({ default: (await import("./claims")).Claims }));

/** A draft or invoice of a list, opened. */
export function InvoiceFolio({ summary }: { summary?: Summary }) {
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
        <Fact of="With the client" tone={summary.handed === "failed" ? "lost" : ""}>
          {handedWords[summary.handed]}
        </Fact>
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
      {invoice.data && !invoice.data.document.isDraft && (
        <Suspense>
          <Claims invoice={invoice.data} />
        </Suspense>
      )}
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
