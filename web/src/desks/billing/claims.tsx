import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { useMoneyText } from "../../frame/figure";
import { ChoiceField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { type Typing, useTyping } from "../../frame/form/use-typing";
import { useOpenEngagements } from "../time/work-fields";
import type { Invoice } from "./use-billing";
import { type Claim, useClaims, useDeliveryActs } from "./use-delivery";

const verbs: Record<Claim["kind"], string> = { question: "asks", dispute: "disputes", promise: "will pay" };

const outcomes: Record<string, string> = {
  answered: "answered",
  kept: "kept",
  written_down: "written down",
  credited: "credited",
  moved: "moved",
  withdrawn: "taken back",
};

/** What the client said of an invoice on its page: each is answered here, and the client reads it there and in a mail. */
export function Claims({ invoice, onCredit }: { invoice: Invoice; onCredit?: () => void }) {
  const claims = useClaims(invoice.id, !invoice.document.isDraft);
  const { role } = useSession();
  if (!claims.data?.length) return null;
  return (
    <section aria-label="What the client said">
      {claims.data.map((claim) => (
        <Said
          key={claim.id}
          claim={claim}
          invoice={invoice}
          mayAnswer={role === "administrator" && claim.outcome === ""}
          onCredit={onCredit}
        />
      ))}
    </section>
  );
}

interface SaidProps {
  claim: Claim;
  invoice: Invoice;
  mayAnswer: boolean;
  onCredit?: () => void;
}

function Said({ claim, invoice, mayAnswer, onCredit }: SaidProps) {
  const money = useMoneyText();
  const [open, setOpen] = useState(false);
  return (
    <div className={claim.outcome === "" ? deskCss.findingBox : deskCss.noteBox}>
      <p>
        <b>
          {claim.name} {verbs[claim.kind]}
          {claim.kind === "promise" && ` on ${long(claim.day)}`}
          {claim.kind === "dispute" && ` ${money(claim.amount)}`}
        </b>{" "}
        {claim.line && `“${claim.line}”: `}
        {claim.text} <span className="soft">{instant(claim.at)}</span>
      </p>
      {claim.outcome !== "" && (
        <p>
          <span className="soft">{outcomes[claim.outcome]}:</span> {claim.answer}{" "}
          {claim.noteId > 0 && <Link to={`/billing/${claim.noteId}`}>Its credit note</Link>}
        </p>
      )}
      {mayAnswer && !open && (
        <p>
          <Do onClick={() => setOpen(true)}>Answer</Do>{" "}
          {claim.kind === "dispute" && onCredit && (
            <>
              <span className="soft">or</span> <Do onClick={onCredit}>credit by hand</Do>
            </>
          )}
        </p>
      )}
      {open && <AnswerForm claim={claim} invoice={invoice} onDone={() => setOpen(false)} />}
    </div>
  );
}

type Outcome = Schema["Answering"]["outcome"];

const settling: { value: Outcome; label: string }[] = [
  { value: "kept", label: "it stays as it is" },
  { value: "written_down", label: "it is written down to an amount" },
  { value: "credited", label: "it is credited" },
  { value: "moved", label: "its work goes to another engagement" },
];

/** What is done, as its button says it. */
const answers: Record<Outcome, string> = {
  answered: "Answer",
  kept: "Answer: it stays",
  written_down: "Answer, and write it down",
  credited: "Answer, and credit it",
  moved: "Answer, and move it",
};

/** The answer, and of a dispute what becomes of the line: both are one act. */
function AnswerForm({ claim, invoice, onDone }: { claim: Claim; invoice: Invoice; onDone: () => void }) {
  const { answer } = useDeliveryActs(invoice.id);
  const disputed = claim.kind === "dispute";
  const form = useTyping({
    answer: "",
    outcome: (disputed ? "kept" : "answered") as Outcome,
    amount: "",
    engagementId: 0,
  });
  const { outcome, amount } = form.typed;
  return (
    <Form
      label="Answer"
      act={answer}
      ok={answers[outcome]}
      ready={form.typed.answer.trim() !== ""}
      onOk={() =>
        answer.mutate({ claim: claim.id, body: { version: claim.version, ...form.typed } }, { onSuccess: onDone })
      }
      onNo={onDone}
    >
      <TextField
        of={form}
        name="answer"
        label={`What ${claim.name} reads, on the page and in a mail`}
        rows={2}
        focus
        wide
      />
      {disputed && <ChoiceField of={form} name="outcome" label="What becomes of it" options={settling} />}
      {outcome === "written_down" && (
        <TextField
          of={form}
          name="amount"
          label="To, net"
          as="amount"
          hint={amount ? undefined : "a credit note is made"}
        />
      )}
      {outcome === "moved" && <MovedTo form={form} />}
    </Form>
  );
}

/** The engagement to which disputed work goes. */
function MovedTo({
  form,
}: {
  form: Typing<{ answer: string; outcome: Outcome; amount: string; engagementId: number }>;
}) {
  const engagements = useOpenEngagements(form.typed.engagementId);
  return (
    <ChoiceField
      of={form}
      name="engagementId"
      label="To the engagement"
      placeholder="type a name"
      search={engagements.search}
      options={engagements.options}
    />
  );
}
