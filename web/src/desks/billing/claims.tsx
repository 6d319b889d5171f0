import { useState } from "react";
import { useSession } from "../../api/session";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { useMoneyText } from "../../frame/figure";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import type { Invoice } from "./use-billing";
import { type Claim, useClaims, useDeliveryActs } from "./use-delivery";

const verbs: Record<Claim["kind"], string> = { question: "asks", dispute: "disputes", promise: "will pay" };

const outcomes: Record<string, string> = {
  answered: "answered",
  kept: "kept",
  credited: "credited",
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
          <span className="soft">{outcomes[claim.outcome]}:</span> {claim.answer}
        </p>
      )}
      {mayAnswer && !open && (
        <p>
          <Do onClick={() => setOpen(true)}>Answer</Do>{" "}
          {claim.kind === "dispute" && onCredit && <Do onClick={onCredit}>Credit the line</Do>}
        </p>
      )}
      {open && <AnswerForm claim={claim} invoice={invoice} onDone={() => setOpen(false)} />}
    </div>
  );
}

function AnswerForm({ claim, invoice, onDone }: { claim: Claim; invoice: Invoice; onDone: () => void }) {
  const { answer } = useDeliveryActs(invoice.id);
  const form = useTyping({ answer: "" });
  const disputed = claim.kind === "dispute";
  const give = (outcome: "answered" | "kept" | "credited") =>
    answer.mutate(
      { claim: claim.id, body: { version: claim.version, answer: form.typed.answer, outcome } },
      { onSuccess: onDone },
    );
  return (
    <Form
      label="Answer"
      act={answer}
      ok={disputed ? "Answer: the line stays" : "Answer"}
      ready={form.typed.answer.trim() !== ""}
      onOk={() => give(disputed ? "kept" : "answered")}
      onNo={onDone}
      more={disputed && <Do onClick={() => give("credited")}>Answer: it was credited</Do>}
    >
      <TextField
        of={form}
        name="answer"
        label={`What ${claim.name} reads, on the page and in a mail`}
        rows={2}
        focus
        wide
      />
    </Form>
  );
}
