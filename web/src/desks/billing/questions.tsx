import { Modal } from "antd";
import { long } from "../../frame/days";
import { useMoneyText } from "../../frame/figure";
import type { Invoice } from "./use-billing";

/** What is asked before an act that can't be undone. */
export type Asking = "issue" | "delete" | null;

interface Props {
  asking: Asking;
  invoice: Invoice;
  onNo: () => void;
  onIssue: () => void;
  onDelete: () => void;
}

/** The questions before issuing and deleting; each names the number and the amount. */
export function Questions({ asking, invoice, onNo, onIssue, onDelete }: Props) {
  const money = useMoneyText();
  const entries = (one: string, many: string) => (invoice.lines.length === 1 ? one : `${invoice.lines.length} ${many}`);
  return (
    <>
      <Modal
        open={asking === "issue"}
        title={`Issue ${invoice.nextNumber}?`}
        okText={`Issue ${invoice.nextNumber} over ${money(invoice.total)}`}
        cancelText="Not yet"
        onCancel={onNo}
        onOk={onIssue}
      >
        {invoice.client} will owe {money(invoice.total)}, due {long(invoice.due)}. The invoice gets its number and is
        frozen; its {entries("entry counts", "entries count")} as billed. This can't be undone.
      </Modal>
      <Modal
        open={asking === "delete"}
        title="Delete this draft?"
        okText={`Delete the draft of ${money(invoice.net)}`}
        okButtonProps={{ danger: true }}
        cancelText="Keep it"
        onCancel={onNo}
        onOk={onDelete}
      >
        The draft for {invoice.client} over {money(invoice.net)} net goes, and its {entries("entry is", "entries are")}{" "}
        unbilled again. Texts that were changed on it are lost; this can't be undone.
      </Modal>
    </>
  );
}
