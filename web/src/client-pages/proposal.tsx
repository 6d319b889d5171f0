import { Button } from "antd";
import { clsx } from "clsx";
import { useEffect, useRef, useState } from "react";
import { long } from "../frame/days";
import { Do } from "../frame/do";
import { Refused } from "../frame/state";
import { Title } from "../frame/title";
import clientCss from "./client.module.css";
import { AskForm, DeclineForm, PassForm } from "./forms";
import { type Chosen, Offer, type Page } from "./offer";
import { SignForm } from "./sign";
import { saveFile, useClientActs, useClientPage, useSecret, useSeen } from "./use-link";

type Doing = "sign" | "decline" | "ask" | "pass";

/** The page of a proposal for the client, on a screen or a phone. */
export function ProposalPage() {
  const secret = useSecret();
  const [chosen, setChosen] = useState<Chosen>();
  const [doing, setDoing] = useState<Doing>();
  const page = useClientPage(secret, chosen);
  const look = useClientPage(secret, undefined).data;
  useSeen(secret, Boolean(page.data));
  if (page.error && !page.data)
    return (
      <main className={clientCss.clientPage}>
        <Title of="a link">This page can't be shown</Title>
        <p className="refusal">{page.error.message}</p>
      </main>
    );
  if (!page.data) return null;
  const p = page.data;
  const open = p.state === "sent" || p.state === "seen";
  return (
    <main className={clientCss.clientPage}>
      <header>
        {look?.logo ? <img src={look.logo} alt={p.firm} /> : <b style={{ color: look?.colour }}>{p.firm}</b>}
        <span className="soft">
          Proposal {p.number}, from {p.lead}
        </span>
      </header>
      {p.answer ? <Answered page={p} secret={secret} /> : p.notice && <Over page={p} secret={secret} />}
      <Refused by={page.error} />
      <Offer page={p} onChoose={setChosen} locked={!open}>
        {(p.terms || p.termsFile) && (
          <section aria-label="Terms" className={clientCss.clientTerms}>
            <h2 className="sub">Terms</h2>
            <p className={clientCss.offerText}>{p.terms}</p>
            {p.termsFile && <Do onClick={() => saveFile(secret, "terms")}>{p.termsFile}</Do>}
          </section>
        )}
      </Offer>
      {p.asked.length > 0 && <Asked page={p} />}
      {open && (
        <>
          <div className={clientCss.clientActs}>
            <Button type="primary" size="large" onClick={() => setDoing("sign")}>
              Accept and sign
            </Button>
            <Button size="large" onClick={() => setDoing("ask")}>
              Ask a question
            </Button>
            <Button size="large" onClick={() => setDoing("pass")}>
              Pass it on
            </Button>
            <Button size="large" onClick={() => setDoing("decline")}>
              Decline
            </Button>
          </div>
          {doing === "sign" && <SignForm page={p} secret={secret} />}
          {doing === "ask" && <AskForm secret={secret} onDone={() => setDoing(undefined)} />}
          {doing === "pass" && <PassForm secret={secret} onDone={() => setDoing(undefined)} />}
          {doing === "decline" && <DeclineForm secret={secret} />}
        </>
      )}
      <footer className="soft">
        {[p.firm, ...p.address.split("\n"), p.web].filter((part) => part.trim()).join(", ")}
      </footer>
    </main>
  );
}

/** Why it can't be answered any more; who holds an old link gets one to the newer version. */
function Over({ page, secret }: { page: Page; secret: string }) {
  const { newer } = useClientActs(secret);
  return (
    <div className={clientCss.clientNotice}>
      {page.notice}
      {page.state === "superseded" && (
        <p>
          <Button loading={newer.isPending} onClick={() => newer.mutate()}>
            Mail me the newer version
          </Button>{" "}
          <span role="status">
            {newer.isSuccess && "It is on its way."}
            {newer.error?.message}
          </span>
        </p>
      )}
    </div>
  );
}

function Answered({ page, secret }: { page: Page; secret: string }) {
  const answer = page.answer;
  const here = useRef<HTMLElement>(null);
  // Who has just signed, at the foot of a long page, sees that it is settled.
  useEffect(() => {
    here.current?.scrollIntoView({ block: "start" });
    here.current?.focus();
  }, []);
  if (!answer) return null;
  if (!answer.accepted)
    return <p className={clientCss.clientNotice}>You declined this proposal on {long(answer.day)}.</p>;
  return (
    <section ref={here} tabIndex={-1} className={clsx(clientCss.clientNotice, clientCss.settled)} aria-label="Accepted">
      <h2>Accepted</h2>
      <p>
        Signed by {answer.name} on {long(answer.day)}
        {answer.way && `, to be paid by ${answer.way}`}.
      </p>
      <p className={clientCss.offerText}>{answer.after}</p>
      <p className={clientCss.clientActs}>
        <Button onClick={() => saveFile(secret, "signed")}>Keep the signed copy</Button>
        <Button onClick={() => window.print()}>Print this page</Button>
      </p>
    </section>
  );
}

function Asked({ page }: { page: Page }) {
  return (
    <section aria-label="Questions" className={clientCss.clientQuestions}>
      <h2 className="sub">Questions</h2>
      <dl>
        {page.asked.map((question) => (
          <div key={question.text}>
            <dt>{question.text}</dt>
            <dd>{question.answer || <span className="soft">not answered yet</span>}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
