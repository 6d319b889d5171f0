import { Button } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import type { Schema } from "../api/client";
import { dated } from "../frame/days";
import { Title } from "../frame/title";
import clientCss from "./client.module.css";
import invoiceCss from "./invoice.module.css";
import { ToAccount } from "./invoice-account";
import { InvoiceLines } from "./invoice-lines";
import { Pay } from "./invoice-pay";
import { SayForm, type Saying } from "./invoice-say";
import { type Words, wordsOf } from "./invoice-words";
import { saveInvoiceFile, useInvoicePage, useOpened } from "./use-invoice";
import { useSecret } from "./use-link";

export type Page = Schema["InvoicePage"];

/** The page of an invoice for its client, on a screen or a phone. */
export function InvoicePage() {
  const secret = useSecret();
  const page = useInvoicePage(secret);
  useOpened(secret, Boolean(page.data));
  if (page.error && !page.data)
    return (
      <main className={clientCss.clientPage}>
        <Title of="a link">{wordsOf(navigator.language.slice(0, 2)).over}</Title>
        <p className="refusal">{page.error.message}</p>
      </main>
    );
  if (!page.data) return null;
  return (
    <main className={clientCss.clientPage} lang={page.data.printed.language}>
      <InvoiceView page={page.data} secret={secret} />
    </main>
  );
}

/** What the client sees; without a secret it is a preview, in which nothing can be done. */
export function InvoiceView({ page, secret = "" }: { page: Page; secret?: string }) {
  const w = wordsOf(page.printed.language);
  const [saying, setSaying] = useState<Saying>();
  const [sent, setSent] = useState(false);
  const { printed } = page;
  const preview = !secret;
  return (
    <>
      <header>
        {page.logo ? <img src={page.logo} alt={page.firm} /> : <b style={{ color: page.colour }}>{page.firm}</b>}
        <span className="soft">
          {printed.title} {printed.number}
          {page.logo && `, ${page.firm}`}
        </span>
      </header>
      <Notice page={page} words={w} />
      {preview ? <h2 className={invoiceCss.what}>{page.what}</h2> : <Title of={page.firm}>{page.what}</Title>}
      <Owed page={page} words={w} />
      <p className={clientCss.clientActs}>
        <Button
          type="primary"
          size="large"
          disabled={preview || printed.isDraft}
          onClick={() => saveInvoiceFile(secret, "pdf")}
        >
          {w.save}
        </Button>
        {page.eInvoice && (
          <Button size="large" disabled={preview} onClick={() => saveInvoiceFile(secret, "xml")}>
            {w.structured}
          </Button>
        )}
        <Button size="large" disabled={preview} onClick={() => window.print()}>
          {w.print}
        </Button>
        {page.receipts.map((name, at) => (
          <Button key={name} size="large" disabled={preview} onClick={() => saveInvoiceFile(secret, String(at))}>
            {w.receipt} {at + 1}
          </Button>
        ))}
      </p>
      {!preview && <Pay secret={secret} words={w} />}
      <HowToPay page={page} words={w} />
      <InvoiceLines page={page} words={w} onSay={page.mayAsk ? setSaying : undefined} />
      <Sums page={page} />
      {page.mayAsk && (
        <p className={clientCss.clientActs}>
          <Button size="large" onClick={() => setSaying({ kind: "question", section: -1, line: -1 })}>
            {w.ask}
          </Button>
          {page.mayDispute && (
            <>
              <Button size="large" onClick={() => setSaying({ kind: "promise", section: -1, line: -1 })}>
                {w.promise}
              </Button>
              <Button size="large" onClick={() => setSaying({ kind: "dispute", section: -1, line: -1 })}>
                {w.dispute}
              </Button>
            </>
          )}
        </p>
      )}
      {saying && !preview && (
        <SayForm
          key={JSON.stringify(saying)}
          saying={saying}
          page={page}
          words={w}
          secret={secret}
          onDone={() => {
            setSaying(undefined);
            setSent(true);
          }}
          onNo={() => setSaying(undefined)}
        />
      )}
      {sent && (
        <p role="status" className={clsx(clientCss.clientNotice, clientCss.settled)}>
          {w.thanks}
        </p>
      )}
      <Claims page={page} words={w} />
      <History page={page} words={w} />
      {!preview && <ToAccount secret={secret} language={printed.language} />}
      <footer className="soft">
        {[page.firm, ...page.address, page.mail].filter((part) => part.trim()).join(", ")}
      </footer>
    </>
  );
}

function Notice({ page, words }: { page: Page; words: Words }) {
  if (page.notice === "" || page.notice === "disputed")
    return page.notice ? <p className={clientCss.clientNotice}>{words.meanwhile}</p> : null;
  const good = page.notice === "paid" || page.notice === "credited";
  return <p className={clsx(clientCss.clientNotice, good && clientCss.settled)}>{words[page.notice]}</p>;
}

/** What is still to be paid, and when. */
function Owed({ page, words }: { page: Page; words: Words }) {
  const [only] = page.instalments;
  return (
    <section className={invoiceCss.owed} aria-label={words.to_pay}>
      <p>
        <span className="soft">{page.open ? words.to_pay : words.settled}</span>
        <b className="figure">{page.open || page.total}</b>
        {page.open && page.open !== page.total && (
          <span className="soft">
            {words.of} {page.total}
          </span>
        )}
        {page.open && page.instalments.length === 1 && only && (
          <span className={only.late ? "lost" : undefined}>
            {words.due} {only.due}
            {only.late && `, ${words.late}`}
          </span>
        )}
      </p>
      {page.instalments.length > 1 && (
        <ul>
          {page.instalments.map((part) => (
            <li key={`${part.due} ${part.amount}`} className={part.open ? undefined : "soft"}>
              <span>
                {words.due} {part.due}
              </span>
              <span className="figure">{part.amount}</span>
              <span className={part.late ? "lost" : "soft"}>
                {part.open === "" ? words.settled : part.late ? words.late : part.open !== part.amount && part.open}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Sums({ page }: { page: Page }) {
  const { sums, due } = page.printed;
  return (
    <dl className={invoiceCss.sums}>
      {[...sums, due].map((sum) => (
        <div key={sum.label} className={sum.strong ? "strong" : undefined}>
          <dt>{sum.label}</dt>
          <dd className="figure">{sum.text}</dd>
        </div>
      ))}
    </dl>
  );
}

function HowToPay({ page, words }: { page: Page; words: Words }) {
  const { account } = page.printed;
  if (!page.open || account.length === 0) return null;
  return (
    <section aria-label={words.how} className={invoiceCss.how}>
      <h2 className="sub">{words.how}</h2>
      <div>
        <dl>
          {account.map((fact) => (
            <div key={fact.label}>
              <dt>{fact.label}</dt>
              <dd>
                <span className="figure">{fact.text}</span>
              </dd>
            </div>
          ))}
        </dl>
        {page.code && (
          <figure>
            <img src={page.code} alt={page.printed.scan} />
            <figcaption className="soft">{page.printed.scan}</figcaption>
          </figure>
        )}
      </div>
    </section>
  );
}

const kinds = { question: "question", dispute: "claim", promise: "intent" } as const;

/** What the client wrote, and what was answered. */
function Claims({ page, words }: { page: Page; words: Words }) {
  if (page.claims.length === 0) return null;
  return (
    <section aria-label={words.said} className={clientCss.clientQuestions}>
      <h2 className="sub">{words.said}</h2>
      <dl>
        {page.claims.map((claim) => (
          <div key={claim.id}>
            <dt>
              {words[kinds[claim.kind]]}
              {claim.kind === "promise"
                ? ` ${dated(claim.day, page.printed.language)}`
                : `, ${claim.line ? `“${claim.line}”` : words.all}`}
              {claim.text && `: ${claim.text}`}
            </dt>
            <dd>{claim.answer || <span className="soft">{words.waiting}</span>}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function History({ page, words }: { page: Page; words: Words }) {
  if (page.history.length === 0) return null;
  return (
    <section aria-label={words.history} className={invoiceCss.history}>
      <h2 className="sub">{words.history}</h2>
      <ol>
        {page.history.map((event, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: what happened does not move
          <li key={at}>
            <span>{event.day}</span> <span>{words[event.what]}</span> <span className="figure">{event.amount}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}
