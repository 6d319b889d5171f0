import { Button, Input } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useSession } from "../../api/session";
import { instant } from "../../frame/days";
import { Dialog } from "../../frame/dialog";
import reviewCss from "./review.module.css";
import type { Invoice } from "./use-billing";

/** Asking for the approval of a draft, giving it, and sending it back. */
export function useApproval(invoice: Invoice) {
  const { role } = useSession();
  const body = { edits: [{ id: invoice.id, version: invoice.version }] };
  const ask = useAct(() => api.post("/api/drafts/ask-approval", { body }));
  const approve = useAct(() => api.post("/api/drafts/approve", { body }));
  const sendBack = useAct((note: string) =>
    api.post("/api/invoices/{id}/send-back", {
      path: { id: invoice.id },
      query: { version: invoice.version },
      body: { note },
    }),
  );
  const says = role === "administrator" || role === "lead";
  return {
    ask,
    approve,
    sendBack,
    mayAsk: role === "administrator" && invoice.state === "draft" && invoice.lines.length > 0,
    mayApprove: says && ["draft", "in_approval"].includes(invoice.state) && invoice.lines.length > 0,
    maySendBack: says && ["in_approval", "approved"].includes(invoice.state),
  };
}

interface Props {
  approval: ReturnType<typeof useApproval>;
  hasNext: boolean;
  onApprove: () => void;
}

/** The acts of approval in the tally of a draft. */
export function ApprovalActs({ approval, hasNext, onApprove }: Props) {
  const [note, setNote] = useState<string | null>(null);
  const { ask, approve, sendBack } = approval;
  return (
    <>
      {approval.mayAsk && (
        <Button loading={ask.isPending} onClick={() => ask.mutate()}>
          Ask for approval
        </Button>
      )}
      {approval.maySendBack && <Button onClick={() => setNote("")}>Send back</Button>}
      {approval.mayApprove && (
        <Button type="primary" loading={approve.isPending} onClick={onApprove}>
          {hasNext ? "Approve, next" : "Approve"}
        </Button>
      )}
      {note !== null && (
        <Dialog
          title="Send this draft back?"
          ok="Send it back"
          no="Not yet"
          disabled={!note.trim()}
          pending={sendBack.isPending}
          onNo={() => setNote(null)}
          onOk={() => sendBack.mutate(note, { onSuccess: () => setNote(null) })}
        >
          <Input.TextArea
            rows={3}
            aria-label="What is to be changed"
            placeholder="What is to be changed"
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </Dialog>
      )}
    </>
  );
}

const words = { asked: "was asked", approved: "approved it", sent_back: "sent it back" } as const;

/** What the leads of a draft were asked, and said. */
export function Said({ invoice }: { invoice: Invoice }) {
  if (invoice.approvals.length === 0) return null;
  return (
    <ul className={reviewCss.saidBy} aria-label="Approval">
      {invoice.approvals.map((said) => (
        <li key={said.leadId} className={said.state === "sent_back" ? "lost" : "soft"}>
          {said.lead} {words[said.state]}
          {said.by && `, by ${said.by}`}, {instant(said.at)}
          {said.note && `: ${said.note}`}
        </li>
      ))}
    </ul>
  );
}
