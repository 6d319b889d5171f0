import { Checkbox } from "antd";
import { useState } from "react";
import { long } from "../../frame/days";
import { Dialog } from "../../frame/dialog";
import { useMoneyText } from "../../frame/figure";
import { wayWords } from "../letters/use-letters";
import type { Invoice } from "./use-billing";
import { useDelivery } from "./use-delivery";

/** What is asked before an act that can't be undone. */
export type Asking = "issue" | "delete" | "reopen" | null;

interface Props {
  asking: Asking;
  invoice: Invoice;
  onNo: () => void;
  /** Issues it, and hands it over in the same act if so asked. */
  onIssue: (send: boolean) => void;
  /** Issues it and goes on to the next draft, if there is one. */
  onIssueNext?: (send: boolean) => void;
  onDelete: () => void;
  onReopen: () => void;
}

/** How many entries are on a draft, in words that fit. */
function entriesOf(invoice: Invoice) {
  const worked = invoice.lines.filter((line) => line.portionId !== 0).length;
  return (one: string, many: string) => (worked === 1 ? one : `${worked} ${many}`);
}

/** The question before issuing: to whom it goes at once, and what it comes to. */
function IssueQuestion({
  invoice,
  onNo,
  onIssue,
  onIssueNext,
}: Pick<Props, "invoice" | "onNo" | "onIssue" | "onIssueNext">) {
  const money = useMoneyText();
  const [letter] = useDelivery(invoice.id).data?.letters ?? [];
  const [sends, setSends] = useState(false);
  const entries = entriesOf(invoice);
  const worked = invoice.lines.some((line) => line.portionId !== 0);
  return (
    <Dialog
      width={600}
      title={`Issue ${invoice.nextNumber}?`}
      ok={`${sends ? "Issue and send" : "Issue"} ${invoice.nextNumber} over ${money(invoice.total)}`}
      no="Not yet"
      onNo={onNo}
      onOk={() => onIssue(sends)}
      also={onIssueNext && { word: sends ? "Issue and send, next" : "Issue, next", act: () => onIssueNext(sends) }}
    >
      <p>
        {invoice.client} will owe {money(invoice.amountDue)}
        {invoice.around.parts.length > 1
          ? ` in ${invoice.around.parts.length} instalments, the first due ${long(invoice.around.parts[0]?.due ?? "")}`
          : `, due ${long(invoice.firstDue)}`}
        . The invoice gets its number and is frozen
        {worked && <>; its {entries("entry counts", "entries count")} as billed</>}. Until something is paid
        {sends ? " or it has left the house" : ""} it can be reopened; after that it is credited.
        {invoice.state !== "approved" && " Nobody has approved it."}
      </p>
      {letter && (
        <Checkbox checked={sends} disabled={letter.problem !== ""} onChange={(event) => setSends(event.target.checked)}>
          And hand it over at once {wayWords[letter.way]}
          {letter.way === "mail" && ` to ${letter.to.map((one) => one.mail).join(", ")}`}
          {letter.problem && <span className="under">{letter.problem}</span>}
        </Checkbox>
      )}
    </Dialog>
  );
}

/** The questions before issuing and deleting; each names the number and the amount. */
export function Questions({ asking, invoice, onNo, onIssue, onIssueNext, onDelete, onReopen }: Props) {
  const money = useMoneyText();
  const entries = entriesOf(invoice);
  return (
    <>
      {asking === "issue" && (
        <IssueQuestion invoice={invoice} onNo={onNo} onIssue={onIssue} onIssueNext={onIssueNext} />
      )}
      {asking === "delete" && (
        <Dialog
          title="Delete this draft?"
          ok={`Delete the draft of ${money(invoice.net)}`}
          danger
          no="Keep it"
          onNo={onNo}
          onOk={onDelete}
        >
          The draft for {invoice.client} over {money(invoice.net)} net goes, and its{" "}
          {entries("entry is", "entries are")} unbilled again. Texts that were changed on it are lost; this can't be
          undone.
        </Dialog>
      )}
      {asking === "reopen" && (
        <Dialog
          title={`Reopen ${invoice.number}?`}
          ok={`Reopen ${invoice.number} over ${money(invoice.total)}`}
          no="Leave it"
          onNo={onNo}
          onOk={onReopen}
        >
          {invoice.number} becomes a draft again and keeps its number; {money(invoice.total)} is not owed until it is
          issued again. What was issued stays in its history.
        </Dialog>
      )}
    </>
  );
}
