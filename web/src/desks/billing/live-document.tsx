import "@fontsource-variable/source-serif-4";
import { clsx } from "clsx";
import { type CSSProperties, lazy, Suspense, useState } from "react";
import type { Schema } from "../../api/client";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Explained } from "../../frame/explain";
import { DocumentPages } from "../../frame/pages";
import documentCss from "./document.module.css";
import type { Invoice } from "./use-billing";

/** Read when it is looked at: few look at it, and the page of a client is large. */
const ClientsPage = lazy(async () => ({ default: (await import("./clients-page")).ClientsPage }));

type Printed = Schema["Printed"];
type Fact = Schema["Fact"];

/** The invoice as the client will read it: in words that change at once, or as the pages that are sent. */
export function LiveDocument({ invoice }: { invoice: Invoice }) {
  const [shows, setShows] = useState<"words" | "pages" | "page">("words");
  const { document: doc } = invoice;
  const whole = invoice.kind !== "opening";
  const views = { words: "Its words", pages: "Its pages", page: "The client's page" } as const;
  return (
    <aside className={documentCss.documentSide} aria-label="As the client will see it">
      <p className={clsx(deskCss.folioOver, documentCss.documentOver)}>
        <span>{doc.isDraft ? "If it were issued now" : "As the client will see it"}</span>
        {whole &&
          (["words", "pages", "page"] as const)
            .filter((view) => view !== shows)
            .map((view) => (
              <Do key={view} onClick={() => setShows(view)}>
                {views[view]}
              </Do>
            ))}
      </p>
      {shows === "page" && (
        <Suspense>
          <ClientsPage invoice={invoice} />
        </Suspense>
      )}
      {shows === "pages" && (
        <DocumentPages
          address={`/api/invoices/${invoice.id}/document.pdf`}
          version={`${invoice.version} ${invoice.total.minor}`}
          name={`Pages of ${doc.title} ${doc.number}`}
        />
      )}
      {shows === "words" && <InWords document={doc} invoice={invoice} />}
    </aside>
  );
}

function InWords({ document: doc, invoice }: { document: Printed; invoice: Invoice }) {
  return (
    <article
      className={clsx(documentCss.document, doc.look.typeface === "serif" && documentCss.serif)}
      lang={doc.language}
      style={{ "--accent": doc.look.colour } as CSSProperties}
    >
      <header className={clsx(doc.look.design === "band" && documentCss.band)}>
        {doc.look.logo ? (
          <img className={documentCss.documentLogo} src={`/api/firm/logo?${doc.look.logo}`} alt={doc.issuer.name} />
        ) : (
          <h2>{doc.issuer.name}</h2>
        )}
        <address>
          {[...(doc.look.logo ? [doc.issuer.name] : []), ...doc.issuer.address, doc.issuer.taxNumber].map((line) => (
            <div key={line}>{line}</div>
          ))}
        </address>
      </header>
      <div className={documentCss.documentFacts}>
        <address>
          <b>{doc.client.name}</b>
          {doc.client.address.map((line) => (
            <div key={line}>{line}</div>
          ))}
        </address>
        <div>
          <b>{doc.title}</b>
          {doc.facts.map((fact, index) => (
            <div key={fact.label} className={documentCss.documentFact}>
              <span className="soft">{fact.label}</span>{" "}
              <span data-testid={index === 0 ? "document-number" : undefined}>
                {index === 0 && doc.isDraft ? <span className={documentCss.draftWord}>{fact.text}</span> : fact.text}
              </span>
            </div>
          ))}
        </div>
      </div>
      {doc.look.head && <img className={documentCss.documentHead} src={`/api/pictures/${doc.look.head}`} alt="" />}
      {doc.look.lines && <p className={clsx(documentCss.words, documentCss.headLines)}>{doc.look.lines}</p>}
      <Words text={doc.opening} />
      {doc.sections.map((section) => (
        <Section key={section.title} section={section} columns={doc.columns} />
      ))}
      <table className={documentCss.documentSums}>
        <tbody>
          {doc.sums.map((sum) => (
            <Sum key={sum.label} sum={sum} />
          ))}
          <tr className="strong">
            <th scope="row">{doc.due.label}</th>
            <td className="number">
              <Explained step={invoice.explanation} label="Amount due">
                {doc.due.text}
              </Explained>
            </td>
          </tr>
        </tbody>
      </table>
      <HowToPay document={doc} />
      {doc.notices.map((notice) => (
        <p key={notice}>{notice}</p>
      ))}
      {doc.balances.length > 0 && <Facts facts={doc.balances} />}
      <Words text={doc.closing} />
      <Words text={doc.note} />
      {doc.statement && (
        <Section section={doc.statement} columns={doc.columns.filter((c) => c.name !== "hours" && c.name !== "rate")} />
      )}
    </article>
  );
}

function Sum({ sum }: { sum: Fact }) {
  return (
    <tr className={sum.strong ? "strong" : ""}>
      <th scope="row">{sum.label}</th>
      <td className="number" data-testid={sum.strong ? "document-total" : undefined}>
        {sum.text}
      </td>
    </tr>
  );
}

type Column = Printed["columns"][number];
type PrintedLine = Printed["sections"][number]["lines"][number];

const isFigure = (column: Column) => column.name === "hours" || column.name === "rate" || column.name === "amount";

function Section({ section, columns }: { section: Printed["sections"][number]; columns: Column[] }) {
  return (
    <table>
      {section.title && <caption>{section.title}</caption>}
      <thead>
        <tr>
          {columns.map((column) => (
            <th key={column.name} scope="col" className={isFigure(column) ? "number" : ""}>
              {column.head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {section.lines.map((line, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the document is drawn whole
          <tr key={index} className={line.covered ? "soft" : ""}>
            {columns.map((column) => (
              <Cell key={column.name} column={column} line={line} />
            ))}
          </tr>
        ))}
        {section.sum && (
          <tr className="strong">
            <th scope="row" colSpan={Math.max(columns.length - 1, 1)}>
              {section.sum.label}
            </th>
            <td className="number">{section.sum.text}</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function Cell({ column, line }: { column: Column; line: PrintedLine }) {
  switch (column.name) {
    case "date":
      return <td className="nowrap">{line.day}</td>;
    case "picture":
      return <td>{line.picture && <img src={`/api/pictures/${line.picture}`} alt="" />}</td>;
    case "who":
      return <td className="nowrap">{line.who}</td>;
    case "hours":
      return <td className="number">{line.hours}</td>;
    case "rate":
      return <td className="number">{line.rate}</td>;
    case "amount":
      return <td className="number">{line.covered ? <span className="soft">{line.note}</span> : line.amount}</td>;
  }
  return (
    <td>
      {line.runs.map((run, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the document is drawn whole
        <span key={at} className={run.strong ? "strong" : undefined}>
          {run.text}
        </span>
      ))}
      {line.note && !line.covered && <span className="soft">, {line.note}</span>}
    </td>
  );
}

/** A text with its own line breaks, or nothing. */
function Words({ text }: { text?: string }) {
  return text ? <p className={documentCss.words}>{text}</p> : null;
}

function Facts({ facts }: { facts: Fact[] }) {
  return (
    <table className={documentCss.documentParts}>
      <tbody>
        {facts.map((fact) => (
          <tr key={fact.label} className={fact.strong ? "strong" : ""}>
            <th scope="row">{fact.label}</th>
            <td className="number">{fact.text}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** In one amount or in instalments, each with its day, and where to. */
function HowToPay({ document: doc }: { document: Printed }) {
  return (
    <>
      {doc.howToPay && <p>{doc.howToPay}</p>}
      {doc.parts.length > 0 && (
        <table className={documentCss.documentParts}>
          <tbody>
            {doc.parts.map((part) => (
              <tr key={part.which}>
                <th scope="row">
                  {part.which}, {part.by}
                </th>
                <td className="number">{part.amount}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {doc.account.length > 0 && (
        <p className="soft">{doc.account.map((fact) => `${fact.label} ${fact.text}`).join(" · ")}</p>
      )}
    </>
  );
}
