import { Input } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { Link } from "react-router";
import { short } from "../../frame/days";
import { Explained, useTabStop } from "../../frame/explain";
import { hours, rateText, Sums, useMoneyText } from "../../frame/figure";
import type { Column } from "../../frame/list/use-list";
import tableCss from "../../frame/table.module.css";
import { idOf, isOut } from "./line-order";
import reviewCss from "./review.module.css";
import type { Line } from "./use-billing";

interface Writing {
  mayEdit: boolean;
  /** Which line's text is a field. */
  editing?: string;
  onEdit: (line?: Line) => void;
  onText: (line: Line, text: string) => Promise<unknown>;
}

/** What is added up of lines: those that are on the bill. */
const summed = (label: string, of: (line: Line) => Line["amount"] | undefined): Column<Line>["sum"] =>
  function Summed(rows, words) {
    const on = rows.filter((line) => !isOut(line));
    return <Sums bare label={label} parts={on.map((line) => ({ of: words(line), amount: of(line) }))} />;
  };

/** The columns of the lines of a draft. */
export const lineColumns = (writing: Writing): Column<Line>[] => [
  {
    name: "Date",
    whole: true,
    cell: (line) => <Source line={line} />,
  },
  { name: "Who", cell: (line) => line.initials },
  {
    name: "Text on the invoice",
    names: "light",
    tone: () => reviewCss.lineText,
    title: (line) => line.text,
    cell: (line) => <Text line={line} writing={writing} />,
    sum: () => "All lines",
  },
  {
    name: "Hours",
    number: true,
    cell: (line) => (
      <>
        {line.wasMinutes > 0 && <span className={tableCss.was}>{hours(line.wasMinutes)}</span>}{" "}
        {line.quantity ? `${line.quantity} ${line.unit}` : hours(line.minutes)}
      </>
    ),
    sum: (rows) => hours(rows.reduce((sum, line) => sum + (isOut(line) ? 0 : line.minutes), 0)),
  },
  {
    name: "Rate",
    number: true,
    cell: (line) => line.price || (line.perHour && line.treatment !== "no_charge" ? rateText(line.perHour) : ""),
  },
  {
    name: "Standard",
    number: true,
    tone: () => "soft",
    cell: (line) => <Standard line={line} />,
    sum: summed("Standard value", (line) => line.standard),
  },
  {
    name: "To bill",
    number: true,
    cell: (line) => <Billed line={line} />,
    sum: summed("To bill", (line) => (line.covered ? undefined : line.amount)),
  },
];

function Standard({ line }: { line: Line }) {
  const money = useMoneyText();
  return line.source === "none" ? null : money(line.standard, true);
}

/** The text that the client reads, as a field while it is changed. */
function Text({ line, writing }: { line: Line; writing: Writing }) {
  const { mayEdit, editing, onEdit, onText } = writing;
  const stop = useTabStop();
  return (
    <>
      {editing === idOf(line) ? (
        <TextField text={line.text} onText={(text) => onText(line, text)} onDone={() => onEdit()} />
      ) : mayEdit && !isOut(line) && !line.covered ? (
        <button
          type="button"
          className={clsx("quiet", reviewCss.textButton)}
          tabIndex={stop}
          onClick={() => onEdit(line)}
          title="Change the line"
        >
          {line.text}
        </button>
      ) : (
        line.text
      )}
      {!line.confirmed && <span className="lost"> price still open</span>}
      {line.category && !line.text.includes(line.category) && <span className="soft"> {line.category}</span>}
      {line.part && <span className="soft"> {line.part}</span>}
      {line.decision && (
        <span className="soft" title={`${line.decision.person}${line.decision.reason && `: ${line.decision.reason}`}`}>
          {" "}
          {line.decision.said}
        </span>
      )}
    </>
  );
}

/** The day of a line, and the way to what it is of. */
function Source({ line }: { line: Line }) {
  const stop = useTabStop();
  if (line.source === "none") return <span className="soft">{line.kind === "by_hand" ? "by hand" : ""}</span>;
  return (
    <Link
      to={
        line.source === "expense"
          ? `/time/expenses/${line.purchaseId}`
          : `/time?week=${line.day}&person=${line.personId}&entry=${line.entryId}`
      }
      className="quiet"
      tabIndex={stop}
      title={line.source === "expense" ? "The purchase, with its receipt" : "The entry in its week, with its history"}
    >
      {short(line.day)}
    </Link>
  );
}

/** What is billed of a line, or why nothing is. */
function Billed({ line }: { line: Line }) {
  const money = useMoneyText();
  if (isOut(line))
    return <span className="soft">{line.hold ? "held" : line.overCap ? "over the cap" : "stays unbilled"}</span>;
  if (line.covered) return <span className="soft">in the fee</span>;
  return (
    <Explained step={line.explanation} label={`value of ${line.text}`}>
      {line.treatment === "no_charge" ? "no charge" : money(line.amount, true)}
    </Explained>
  );
}

interface TextFieldProps {
  text: string;
  onText: (text: string) => Promise<unknown>;
  onDone: () => void;
}

/** The text of a line while it is changed; refused text stays in the field. */
function TextField({ text, onText, onDone }: TextFieldProps) {
  const [typed, setTyped] = useState(text);
  const [busy, setBusy] = useState(false);
  const save = async () => {
    if (typed === text) return onDone();
    setBusy(true);
    try {
      await onText(typed);
      onDone();
    } catch {
      setBusy(false);
    }
  };
  return (
    <Input
      autoFocus
      size="small"
      aria-label="Text on the invoice"
      value={typed}
      disabled={busy}
      onChange={(event) => setTyped(event.target.value)}
      onPressEnter={save}
      onBlur={save}
      onKeyDown={(event) => event.key === "Escape" && onDone()}
    />
  );
}
