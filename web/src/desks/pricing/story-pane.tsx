import { Button, Input, Popconfirm } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { useMoneyText } from "../../frame/figure";
import formCss from "../../frame/form/form.module.css";
import { History } from "../../frame/history";
import { Refused } from "../../frame/state";
import { nothingBegun, useBegin } from "../billing/use-begin";
import pricingCss from "./pricing.module.css";
import { type Proposal, useProposalActs } from "./use-proposal";
import { Versions } from "./versions";

const became: Record<Proposal["state"], string> = {
  draft: "is a draft",
  sent: "is out",
  seen: "is out",
  accepted: "was accepted",
  declined: "was declined",
  withdrawn: "was withdrawn",
  superseded: "was replaced by a newer version",
  expired: "has expired",
};

/** What has become of a proposal: its answer, questions, who has a link, mails, versions, history. */
export function StoryPane({ proposal, mayChange }: { proposal: Proposal; mayChange: boolean }) {
  const acts = useProposalActs(proposal.id);
  const navigate = useNavigate();
  const money = useMoneyText();
  const out = proposal.state === "sent" || proposal.state === "seen";
  const problem = acts.withdraw.error ?? acts.endLinks.error ?? acts.drop.error ?? acts.answer.error ?? acts.pass.error;
  return (
    <section aria-label="Story" className="story-pane">
      <p>
        <b>{proposal.number}</b> {became[proposal.state]}
        {proposal.sentDay && `, sent ${long(proposal.sentDay)}`}
        {proposal.seenAt && `, opened ${instant(proposal.seenAt)}`}.
      </p>
      <Answer proposal={proposal} />
      {proposal.questions.length > 0 && (
        <>
          <h2 className="sub">Questions</h2>
          {proposal.questions.map((question) => (
            <Question key={question.id} question={question} mayChange={mayChange} onAnswer={acts.answer.mutate} />
          ))}
        </>
      )}
      {proposal.passings.length > 0 && (
        <>
          <h2 className="sub">To be passed on</h2>
          {proposal.passings.map((passing) => (
            <Passing key={passing.id} passing={passing} mayChange={mayChange} onAnswer={acts.pass.mutate} />
          ))}
        </>
      )}
      <Refused by={problem} />
      {mayChange && (
        <p className={formCss.ending}>
          {out && (
            <>
              <Sure
                words="Withdraw it"
                question={`Withdraw ${proposal.number}, ${money(proposal.firstYear)} in the first year? Its client can't accept it any more.`}
                onYes={() => acts.withdraw.mutate({ version: proposal.version, reason: "" })}
              />{" "}
              <Sure
                words="End all its links"
                question={`End all links to ${proposal.number}? Whoever has one can't open it any more; you can send it again.`}
                onYes={() => acts.endLinks.mutate()}
              />
            </>
          )}
          {proposal.state === "draft" && (
            <Sure
              words="Throw this draft away"
              question={`Throw ${proposal.number} away, ${money(proposal.firstYear)} in the first year? It was never sent.`}
              onYes={() => acts.drop.mutate(proposal.version, { onSuccess: () => navigate("/pricing") })}
            />
          )}
        </p>
      )}
      <Reached proposal={proposal} />
      <Versions proposal={proposal} mayChange={mayChange} />
      <History subject="proposals" id={proposal.id} />
    </section>
  );
}

/** An act that can't be undone asks first. */
function Sure({ words, question, onYes }: { words: string; question: string; onYes: () => void }) {
  return (
    <Popconfirm title={question} okText={words} cancelText="Leave it" icon={null} onConfirm={onYes}>
      <Do>{words}</Do>
    </Popconfirm>
  );
}

function Answer({ proposal }: { proposal: Proposal }) {
  const answer = proposal.answer;
  const money = useMoneyText();
  const { role } = useSession();
  const navigate = useNavigate();
  const bill = useBegin();
  if (!answer) return null;
  if (!answer.accepted)
    return (
      <p className={deskCss.findingBox}>
        Declined by {answer.name} on {long(answer.day)}: {answer.reason || "no reason given"}.
      </p>
    );
  return (
    <div className={pricingCss.settledBox}>
      <p>
        <b>{answer.tier}</b>
        {answer.options.length > 0 && `, with ${answer.options.join(", ")}`}, accepted by {answer.name} on{" "}
        {long(answer.day)}
        {answer.recordedBy && `, recorded by ${answer.recordedBy}: ${answer.evidence}`}
        {answer.way && `, to be paid by ${answer.way}`}.
      </p>
      <p>
        {answer.engagements.map((work) => (
          <Link key={work.id} to={`/engagements/${work.id}`} className={pricingCss.madeWork}>
            {work.name}
          </Link>
        ))}
      </p>
      {role === "administrator" && answer.once.minor !== 0 && (
        <p>
          <Do
            onClick={() =>
              bill.mutate(
                { ...nothingBegun, proposalId: proposal.id },
                { onSuccess: (made) => navigate(`/billing/${made.id}`) },
              )
            }
          >
            Bill what was agreed once, {money(answer.once)} net
          </Do>
          <Refused by={bill.error} inline />
        </p>
      )}
      {answer.once.minor === 0 && (
        <p className="soft">
          Nothing that was agreed once is left to bill: the rest is billed as it is worked, or by its plan.
        </p>
      )}
      {answer.proof && (
        <p>
          <a href={`/api/proposals/${proposal.id}/files/evidence`}>{answer.proof}</a>
        </p>
      )}
      {answer.document && <a href={`/api/proposals/${proposal.id}/signed`}>The signed copy</a>}
    </div>
  );
}

interface QuestionProps {
  question: Proposal["questions"][number];
  mayChange: boolean;
  onAnswer: (body: { questionId: number; version: number; text: string }) => void;
}

function Question({ question, mayChange, onAnswer }: QuestionProps) {
  const [text, setText] = useState("");
  return (
    <div className={pricingCss.askedQuestion}>
      <p>
        {question.text}
        <span className="under">
          {question.name}, {instant(question.at)}
        </span>
      </p>
      {question.answer ? (
        <p className="soft">{question.answer}</p>
      ) : (
        mayChange && (
          <>
            <Input.TextArea
              aria-label="Answer"
              autoSize={{ minRows: 2 }}
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
            <Button
              size="small"
              disabled={!text.trim()}
              onClick={() => onAnswer({ questionId: question.id, version: question.version, text })}
            >
              Mail the answer
            </Button>
          </>
        )
      )}
    </div>
  );
}

interface PassingProps {
  passing: Proposal["passings"][number];
  mayChange: boolean;
  onAnswer: (body: { passingId: number; version: number; yes: boolean }) => void;
}

/** Somebody whom the client wants to sign, and whom the firm does not know. */
function Passing({ passing, mayChange, onAnswer }: PassingProps) {
  const answer = (yes: boolean) => onAnswer({ passingId: passing.id, version: passing.version, yes });
  return (
    <div className={pricingCss.askedQuestion}>
      <p>
        {passing.by} asks to pass it on to {passing.name}, {passing.mail}
        <span className="under">{instant(passing.at)}</span>
      </p>
      {passing.word && <p className="soft">With the words: {passing.word}</p>}
      {mayChange && (
        <p className={formCss.buttons}>
          <Button size="small" onClick={() => answer(true)}>
            Mail them a link
          </Button>
          <Button size="small" type="text" onClick={() => answer(false)}>
            Do not
          </Button>
        </p>
      )}
    </div>
  );
}

function Reached({ proposal }: { proposal: Proposal }) {
  if (proposal.links.length === 0 && proposal.mails.length === 0) return null;
  return (
    <>
      <h2 className="sub">Who was reached</h2>
      <ul className={pricingCss.reached}>
        {proposal.links.map((link) => (
          <li key={link.madeAt}>
            {link.name}, {link.mail}
            <span className="under">
              {link.ended ? "link ended" : link.seenAt ? `opened ${instant(link.seenAt)}` : "not opened yet"}
            </span>
          </li>
        ))}
        {proposal.mails
          .filter((mail) => mail.state !== "sent")
          .map((mail) => (
            <li key={mail.id}>
              {mail.subject}
              <span className={mail.state === "failed" ? "under lost" : "under"}>
                to {mail.to}, {mail.state}
                {mail.problem && `: ${mail.problem}`}
              </span>
            </li>
          ))}
      </ul>
    </>
  );
}
