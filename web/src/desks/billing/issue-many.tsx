import { Checkbox } from "antd";
import { useState } from "react";
import { Dialog } from "../../frame/dialog";
import { summed, useMoneyText } from "../../frame/figure";
import { wayWords } from "../letters/use-letters";
import type { Summary } from "./use-billing";
import { useLetters } from "./use-delivery";

interface Props {
  /** The drafts that can be issued. */
  rows: Summary[];
  /** How many were asked for. */
  among: number;
  onNo: () => void;
  /** Issues them, and hands them over in the same job if so asked. */
  onIssue: (send: boolean) => void;
}

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;

/** The question before many are issued: what they come to, and whether each goes to its client at once. */
export function IssueMany({ rows, among, onNo, onIssue }: Props) {
  const money = useMoneyText();
  const [sends, setSends] = useState(false);
  const unapproved = rows.filter((r) => r.state !== "approved").length;
  return (
    <Dialog
      title={`Issue ${counted(rows.length, "invoice")}?`}
      ok={`${sends ? "Issue and send" : "Issue"} ${rows.length}`}
      no="Not yet"
      onNo={onNo}
      onOk={() => onIssue(sends)}
    >
      <p>
        {unapproved > 0 && (
          <b>
            {unapproved === rows.length ? "None of them is approved. " : `${unapproved} of them are not approved. `}
          </b>
        )}
        They come to{" "}
        {summed(rows.map((r) => r.total))
          .map((sum) => money(sum))
          .join(" and ")}{" "}
        gross, get their numbers in the order of their dates and clients, and are frozen.{" "}
        {rows.some((r) => r.found > 0) && "Some of them have findings that do not block. "}
        {among > rows.length && `${among - rows.length} stay: something on them blocks, or they wait for approval. `}
        Until something is paid they can be reopened.
      </p>
      <Checkbox checked={sends} onChange={(event) => setSends(event.target.checked)}>
        And hand each over at once, as its profile says
      </Checkbox>
      {sends && <Letters rows={rows} />}
    </Dialog>
  );
}

/** How many letters go by which way, and which can't. */
function Letters({ rows }: { rows: Summary[] }) {
  const letters = useLetters(rows.map((row) => row.id));
  if (letters.error) return <p className="refusal">{letters.error.message}</p>;
  if (!letters.data) return <p className="soft">Reading to whom they go …</p>;
  const stay = letters.data.filter((letter) => letter.problem);
  const ways = Map.groupBy(
    letters.data.filter((letter) => !letter.problem),
    (letter) => letter.way,
  );
  return (
    <>
      <p>{[...ways].map(([way, own]) => `${counted(own.length, "letter")} ${wayWords[way]}`).join(", ")}.</p>
      {stay.map((letter) => (
        <p key={letter.invoiceIds.join()}>
          <b>{letter.client}</b> is issued and not sent: {letter.problem}
        </p>
      ))}
    </>
  );
}
