import { long } from "../../frame/days";
import { Dialog } from "../../frame/dialog";
import { useMoneyText } from "../../frame/figure";
import type { Invoice } from "./use-billing";

/** What is asked before an act that can't be undone. */
export type Asking = "issue" | "delete" | "reopen" | null;

interface Props {
  asking: Asking;
  invoice: Invoice;
  onNo: () => void;
  onIssue: () => void;
  /** Issues it and goes on to the next draft, if there is one. */
  onIssueNext?: () => void;
  onDelete: () => void;
  onReopen: () => void;
}

/** The questions before issuing and deleting; each names the number and the amount. */
export function Questions({ asking, invoice, onNo, onIssue, onIssueNext, onDelete, onReopen }: Props) {
  const money = useMoneyText();
  const worked = invoice.lines.filter((line) => line.portionId !== 0).length;
  const entries = (one: string, many: string) => (worked === 1 ? one : `${worked} ${many}`);
  return (
    <>
      {asking === "issue" && (
        <Dialog
          title={`Issue ${invoice.nextNumber}?`}
          ok={`Issue ${invoice.nextNumber} over ${money(invoice.total)}`}
          no="Not yet"
          onNo={onNo}
          onOk={onIssue}
          also={onIssueNext && { word: "Issue, next", act: onIssueNext }}
        >
          {invoice.client} will owe {money(invoice.amountDue)}
          {invoice.around.parts.length > 1
            ? ` in ${invoice.around.parts.length} instalments, the first due ${long(invoice.around.parts[0]?.due ?? "")}`
            : `, due ${long(invoice.firstDue)}`}
          . The invoice gets its number and is frozen
          {worked > 0 && <>; its {entries("entry counts", "entries count")} as billed</>}. Until something is paid it
          can be reopened; after that it is credited.
          {invoice.state !== "approved" && " Nobody has approved it."}
        </Dialog>
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
