import { Dialog } from "../../frame/dialog";
import { Table } from "../../frame/list/table";
import { Refused } from "../../frame/state";
import { wayWords } from "../letters/use-letters";
import { PostedOn } from "./posted-on";
import reviewCss from "./review.module.css";
import type { Summary } from "./use-billing";
import { type Letter, useLetters, type useManyDeliveries } from "./use-delivery";

interface Props {
  rows: Summary[];
  deliveries: ReturnType<typeof useManyDeliveries>;
  onNo: () => void;
  onDone: () => void;
}

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;

/** The letters in which many invoices go out, before they do: to whom, by which way, and what can't go and why. */
export function SendMany({ rows, deliveries, onNo, onDone }: Props) {
  const ids = rows.map((row) => row.id);
  const letters = useLetters(ids);
  const all = letters.data ?? [];
  const good = all.filter((letter) => !letter.problem);
  const ways = [...Map.groupBy(good, (letter) => letter.way)].map(
    ([way, own]) => `${counted(own.length, "letter")} ${wayWords[way]}`,
  );
  return (
    <Dialog
      width={720}
      title={`Hand ${counted(rows.length, "invoice")} over?`}
      ok={good.length > 0 ? `Hand over ${good.reduce((n, letter) => n + letter.invoiceIds.length, 0)}` : "Hand over"}
      disabled={good.length === 0}
      no="Not yet"
      onNo={onNo}
      onOk={() => deliveries.send.mutate(ids, { onSuccess: onDone })}
    >
      <p>
        {ways.length > 0 ? `${ways.join(", ")}. ` : "Nothing can go. "}
        {all.some((letter) => letter.stays && letter.way === "mail") &&
          "No mail server is set: mails stay on this machine. "}
        What is to be printed or posted waits until it is noted as posted.
      </p>
      <Refused by={letters.error ?? deliveries.posted.error} />
      <Table
        headless
        className={reviewCss.tallyLeftOut}
        rows={all}
        id={(letter) => letter.invoiceIds.join()}
        columns={[
          { name: "Invoices", names: "light", cell: (letter) => letter.numbers },
          { name: "Client", cell: (letter) => letter.client },
          { name: "How", cell: (letter) => <How letter={letter} /> },
        ]}
      />
      <p>
        <PostedOn
          what="All of them were"
          onPosted={(day) => deliveries.posted.mutate({ ids, day }, { onSuccess: onDone })}
        />
      </p>
    </Dialog>
  );
}

function How({ letter }: { letter: Letter }) {
  if (letter.problem) return <span className="lost">{letter.problem}</span>;
  return (
    <>
      {wayWords[letter.way]}
      {letter.way === "mail" && ` to ${letter.to.map((one) => one.mail).join(", ")}`}
    </>
  );
}
