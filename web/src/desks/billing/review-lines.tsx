import { Button, Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { short } from "../../frame/days";
import { Explained, openExplanation } from "../../frame/explain";
import { hours, rateText, useMoneyText } from "../../frame/figure";
import { useListKeys } from "../../frame/keys";
import type { Invoice, Line } from "./use-billing";

interface Props {
  invoice: Invoice;
  mayEdit: boolean;
  onToggle: (line: Line) => void;
  onText: (line: Line, text: string) => Promise<unknown>;
  onStep: (by: number) => void;
}

/** Lines and what was left out, by engagement in the order of the document, and by day. */
function arranged(invoice: Invoice): Line[] {
  const sections = invoice.document.sections.map((section) => section.title);
  const place = (line: Line) =>
    sections.includes(line.engagement) ? sections.indexOf(line.engagement) : sections.length;
  const all = [...invoice.lines, ...invoice.leftOut];
  return all.toSorted((a, b) => place(a) - place(b) || a.day.localeCompare(b.day) || a.portionId - b.portionId);
}

/** The entries of a draft: out of it, back on it, and the text that the client reads. */
export function ReviewLines({ invoice, mayEdit, onToggle, onText, onStep }: Props) {
  const lines = arranged(invoice);
  const [current, setCurrent] = useState(0);
  const [editing, setEditing] = useState(0);
  const keys = useListKeys(lines, current, setCurrent, {
    x: onToggle,
    "=": () => openExplanation(document.querySelector(`.review [data-row="${current}"]`)),
    Enter: (line) => mayEdit && setEditing(line.lineId),
    "[": () => onStep(-1),
    "]": () => onStep(1),
  });
  return (
    <section aria-label="Entries" className="review-lines" {...keys}>
      <table className="grid lines">
        <thead>
          <tr>
            <th scope="col">Date</th>
            <th scope="col">Who</th>
            <th scope="col">Text on the invoice</th>
            <th scope="col" className="number">
              Hours
            </th>
            <th scope="col" className="number">
              Rate
            </th>
            <th scope="col" className="number">
              To bill
            </th>
            <th scope="col">
              <span className="unseen">What can be done</span>
            </th>
          </tr>
        </thead>
        {lines.map((line, index) => (
          <tbody key={line.portionId}>
            {line.engagement !== lines[index - 1]?.engagement && (
              <tr className="of-client">
                <th scope="rowgroup" colSpan={7}>
                  {line.engagement}
                </th>
              </tr>
            )}
            <ReviewLine
              line={line}
              index={index}
              current={index === current}
              editing={line.lineId !== 0 && line.lineId === editing}
              mayEdit={mayEdit}
              onCurrent={() => setCurrent(index)}
              onEdit={() => setEditing(line.lineId)}
              onDone={() => setEditing(0)}
              onToggle={() => onToggle(line)}
              onText={(text) => onText(line, text)}
            />
          </tbody>
        ))}
      </table>
    </section>
  );
}

interface LineProps {
  line: Line;
  index: number;
  current: boolean;
  editing: boolean;
  mayEdit: boolean;
  onCurrent: () => void;
  onEdit: () => void;
  onDone: () => void;
  onToggle: () => void;
  onText: (text: string) => Promise<unknown>;
}

function ReviewLine({
  line,
  index,
  current,
  editing,
  mayEdit,
  onCurrent,
  onEdit,
  onDone,
  onToggle,
  onText,
}: LineProps) {
  const money = useMoneyText();
  // Tab stops in the current row alone: a draft of fifty lines is one step of Tab.
  const stop = current ? 0 : -1;
  const out = line.lineId === 0;
  const noCharge = line.treatment === "no_charge";
  return (
    <tr data-row={index} className={`${current ? "current" : ""} ${out ? "left-out" : ""}`} onClick={onCurrent}>
      <td>
        <Link
          to={
            line.source === "expense"
              ? `/time/expenses/${line.purchaseId}`
              : `/time?week=${line.day}&person=${line.personId}&entry=${line.entryId}`
          }
          className="quiet"
          tabIndex={stop}
          title={
            line.source === "expense" ? "The purchase, with its receipt" : "The entry in its week, with its history"
          }
        >
          {short(line.day)}
        </Link>
      </td>
      <td>{line.initials}</td>
      <td className="line-text">
        {editing ? (
          <TextField text={line.text} onText={onText} onDone={onDone} />
        ) : mayEdit && !out ? (
          <button type="button" className="quiet text-button" tabIndex={stop} onClick={onEdit} title="Change the text">
            {line.text}
          </button>
        ) : (
          line.text
        )}
      </td>
      <td className="number">{hours(line.minutes)}</td>
      <td className="number">{noCharge ? "" : rateText(line.perHour)}</td>
      <td className="number">
        {out ? (
          <span className="soft">stays unbilled</span>
        ) : (
          <Explained step={line.explanation} label={`value of ${line.text}`} tabIndex={stop}>
            {noCharge ? "no charge" : money(line.amount, true)}
          </Explained>
        )}
      </td>
      <td className="line-act">
        {mayEdit && (
          <Button
            size="small"
            type="text"
            tabIndex={stop}
            onClick={onToggle}
            aria-label={`${out ? "Put on" : "Take out"} ${line.text}`}
          >
            {out ? "Put on" : "Take out"}
          </Button>
        )}
      </td>
    </tr>
  );
}

/** The text of a line while it is changed; refused text stays in the field. */
function TextField({
  text,
  onText,
  onDone,
}: {
  text: string;
  onText: (text: string) => Promise<unknown>;
  onDone: () => void;
}) {
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
