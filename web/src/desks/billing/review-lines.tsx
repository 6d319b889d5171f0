import { Button, Input } from "antd";
import { clsx } from "clsx";
import { type KeyboardEvent, useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import { short } from "../../frame/days";
import { Do } from "../../frame/do";
import { Explained, openExplanation, RowsContext } from "../../frame/explain";
import { hours, rateText, useMoneyText } from "../../frame/figure";
import { useListKeys } from "../../frame/keys";
import tableCss from "../../frame/table.module.css";
import { DecideBar, DecideForm, decisions, type Kind } from "../wip/decide-form";
import type { Decision } from "../wip/use-wip";
import { HandLine } from "./hand-line";
import reviewCss from "./review.module.css";
import type { Invoice, Line, LineTyped } from "./use-billing";

interface Props {
  invoice: Invoice;
  mayEdit: boolean;
  onToggle: (line: Line) => void;
  onText: (line: Line, text: string) => Promise<unknown>;
  onChange: (line: Line, typed: LineTyped) => Promise<unknown>;
  onOrder: (lineIds: number[]) => void;
  onDecide: (line: Line, decision: Decision, said: string) => Promise<unknown>;
  onApprove: () => void;
  onFinding: () => void;
  onStep: (by: number) => void;
}

/** What identifies a row: a line, the entry behind a fee, or an entry that is left out. */
const keyOf = (line: Line) => `${line.lineId}-${line.portionId}`;

/** The lines in the order of the invoice; what was left out stands where it would, by engagement and day. */
function arranged(invoice: Invoice): Line[] {
  const rows = [...invoice.lines];
  for (const out of invoice.leftOut) {
    const later = (line: Line) =>
      line.engagement === out.engagement &&
      line.portionId !== 0 &&
      (line.day > out.day || (line.day === out.day && line.portionId > out.portionId));
    const next = rows.findIndex(later);
    const last = rows.findLastIndex((line) => line.engagement === out.engagement);
    rows.splice(next >= 0 ? next : last >= 0 ? last + 1 : rows.length, 0, out);
  }
  return rows;
}

/** The lines after one was moved: each once, without what is behind fees or left out. */
function moved(rows: Line[], from: Line, by: number): number[] | undefined {
  const ids = [...new Set(rows.filter((line) => line.lineId !== 0).map((line) => line.lineId))];
  const at = ids.indexOf(from.lineId);
  const to = at + by;
  if (from.lineId === 0 || to < 0 || to >= ids.length) return undefined;
  ids.splice(to, 0, ...ids.splice(at, 1));
  return ids;
}

/** Goes to a draft with its lines in hand: who comes by a key goes on by keys. */
export const onLines = { state: { onLines: true } };

const heads = ["Date", "Who", "Text on the invoice", "Hours", "Rate", "Standard", "To bill"];

/** The lines of a draft: out of it, back on it, their order, and the text that the client reads. */
export function ReviewLines(props: Props) {
  const { invoice, mayEdit, onToggle, onText, onChange, onOrder, onDecide, onStep } = props;
  const [showsOut, setShowsOut] = useState(invoice.lines.some((line) => line.portionId !== 0));
  const lines = showsOut ? arranged(invoice) : invoice.lines;
  const [current, setCurrent] = useState(0);
  const [editing, setEditing] = useState("");
  const [dragged, setDragged] = useState<Line>();
  const [asking, setAsking] = useState<{ kind: Kind; line: Line } | null>(null);
  const [refused, setRefused] = useState<Error | null>(null);
  const [busy, setBusy] = useState(false);
  const ask = (kind: Kind) => (line: Line) => {
    if (!mayEdit || !line.portionId || line.lineId === 0) return;
    setRefused(null);
    setAsking({ kind, line });
  };
  const decide = async (decision: Decision) => {
    if (!asking) return;
    setBusy(true);
    try {
      await onDecide(asking.line, decision, decidedWords[asking.kind]);
      setAsking(null);
      keys.ref.current?.focus();
    } catch (problem) {
      setRefused(problem as Error);
    }
    setBusy(false);
  };
  const keys = useListKeys(lines, current, setCurrent, {
    x: onToggle,
    "=": () => openExplanation(document.querySelector(`main [data-row="${current}"]`)),
    Enter: (line) => mayEdit && line.lineId !== 0 && !line.covered && setEditing(keyOf(line)),
    ...Object.fromEntries(decisions.map(({ kind, key }) => [key, ask(kind)])),
    a: props.onApprove,
    f: props.onFinding,
    "[": () => onStep(-1),
    "]": () => onStep(1),
  });
  const { state } = useLocation();
  const { ref } = keys;
  // Only once they are drawn can they be taken in hand.
  useEffect(() => {
    if (state?.onLines) ref.current?.focus();
  }, [state, ref]);
  const move = (line: Line, by: number) => {
    const ids = mayEdit ? moved(lines, line, by) : undefined;
    if (!ids) return;
    onOrder(ids);
    setCurrent(Math.max(0, Math.min(lines.length - 1, current + by)));
  };
  const drop = (on: Line) => {
    const ids = [...new Set(lines.filter((line) => line.lineId !== 0).map((line) => line.lineId))];
    if (dragged && on.lineId && on.lineId !== dragged.lineId)
      move(dragged, ids.indexOf(on.lineId) - ids.indexOf(dragged.lineId));
    setDragged(undefined);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (event.altKey && by !== undefined) {
      event.preventDefault();
      const line = lines[current];
      if (line) move(line, by);
    } else keys.onKeyDown(event);
  };
  return (
    <section aria-label="Entries" className={reviewCss.reviewLines} {...keys} onKeyDown={onKeyDown}>
      {mayEdit && lines[current]?.portionId !== 0 && lines[current]?.lineId !== 0 && (
        <DecideBar
          on={`on the marked line, ${short(lines[current]?.day ?? "")}`}
          held={false}
          onAsk={(kind) => lines[current] && ask(kind)(lines[current])}
        />
      )}
      <table className={clsx(tableCss.grid, tableCss.lines)}>
        <thead>
          <tr>
            {heads.map((head, at) => (
              <th key={head} scope="col" className={at > 2 ? "number" : undefined}>
                {head}
              </th>
            ))}
            <th scope="col">
              <span className="unseen">What can be done</span>
            </th>
          </tr>
        </thead>
        {lines.map((line, index) => (
          <tbody key={keyOf(line)}>
            {line.engagement !== lines[index - 1]?.engagement && (
              <tr className={tableCss.ofClient}>
                <th scope="rowgroup" colSpan={5}>
                  {line.engagement}
                </th>
                <Sums of={lines.filter((l) => l.engagement === line.engagement)} />
              </tr>
            )}
            {asking && keyOf(asking.line) === keyOf(line) && (
              <tr>
                <td colSpan={8}>
                  <DecideForm
                    kind={asking.kind}
                    on={`${short(line.day)} · ${line.initials} · ${line.text}`}
                    engagements={invoice.around.engagements.map((e) => ({ id: e.id, name: e.name }))}
                    busy={busy}
                    refused={refused}
                    onDecide={decide}
                    onClose={() => {
                      setAsking(null);
                      keys.ref.current?.focus();
                    }}
                  />
                </td>
              </tr>
            )}
            {editing === keyOf(line) && line.source === "none" ? (
              <tr>
                <td colSpan={8}>
                  <HandLine
                    invoice={invoice}
                    line={line}
                    onSave={(typed) => onChange(line, typed)}
                    onDone={() => setEditing("")}
                  />
                </td>
              </tr>
            ) : (
              <ReviewLine
                line={line}
                index={index}
                current={index === current}
                editing={editing === keyOf(line)}
                mayEdit={mayEdit}
                onCurrent={() => setCurrent(index)}
                onEdit={() => setEditing(keyOf(line))}
                onDone={() => setEditing("")}
                onToggle={() => onToggle(line)}
                onText={(text) => onText(line, text)}
                onDrag={() => setDragged(line)}
                onDrop={() => drop(line)}
              />
            )}
          </tbody>
        ))}
      </table>
      {!showsOut && invoice.leftOut.length > 0 && (
        <p className="soft">
          {invoice.leftOut.length === 1 ? "One unbilled entry is" : `${invoice.leftOut.length} unbilled entries are`}{" "}
          not on it: <Do onClick={() => setShowsOut(true)}>show</Do>
        </p>
      )}
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
  onDrag: () => void;
  onDrop: () => void;
}

function ReviewLine(props: LineProps) {
  const { line, index, current, editing, mayEdit, onText, onDone, onEdit, onToggle } = props;
  const money = useMoneyText();
  // Tab stops in the current row alone: a draft of fifty lines is one step of Tab.
  const stop = current ? 0 : -1;
  const out = line.lineId === 0;
  const mayWrite = mayEdit && !out && !line.covered;
  const classes = clsx(current && "current", out && reviewCss.leftOut, line.covered && tableCss.covered);
  return (
    <tr
      data-row={index}
      data-line={line.lineId || undefined}
      className={classes}
      draggable={mayWrite && !editing}
      onClick={props.onCurrent}
      onDragStart={props.onDrag}
      onDragOver={(event) => event.preventDefault()}
      onDrop={props.onDrop}
    >
      <td>
        <Source line={line} stop={stop} />
      </td>
      <td>{line.initials}</td>
      <td className={reviewCss.lineText}>
        {editing ? (
          <TextField text={line.text} onText={onText} onDone={onDone} />
        ) : mayWrite ? (
          <button
            type="button"
            className={clsx("quiet", reviewCss.textButton)}
            tabIndex={stop}
            onClick={onEdit}
            title="Change the line"
          >
            {line.text}
          </button>
        ) : (
          line.text
        )}
        {!line.confirmed && <span className="lost"> price still open</span>}
        {line.part && <span className="soft"> part, at the cap</span>}
        {line.decision && (
          <span
            className="soft"
            title={`${line.decision.person}${line.decision.reason && `: ${line.decision.reason}`}`}
          >
            {" "}
            {line.decision.said}
          </span>
        )}
      </td>
      <td className="number">
        {line.wasMinutes > 0 && <span className={tableCss.was}>{hours(line.wasMinutes)}</span>}{" "}
        {line.quantity ? `${line.quantity} ${line.unit}` : hours(line.minutes)}
      </td>
      <td className="number">
        {line.price || (line.perHour && line.treatment !== "no_charge" ? rateText(line.perHour) : "")}
      </td>
      <td className="number soft">{line.source === "none" ? "" : money(line.standard, true)}</td>
      <td className="number">
        <RowsContext value={!current}>
          <Billed line={line} />
        </RowsContext>
      </td>
      <td className={tableCss.lineAct}>
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

/** What the lines of an engagement come to. */
function Sums({ of }: { of: Line[] }) {
  const money = useMoneyText();
  const on = of.filter((line) => line.lineId !== 0);
  const first = on[0];
  if (!first) return <td colSpan={3} />;
  const sum = (minor: (line: Line) => number) =>
    money({ ...first.amount, minor: on.reduce((whole, line) => whole + minor(line), 0) }, true);
  return (
    <>
      <td className="number soft">{sum((line) => line.standard.minor)}</td>
      <td className="number">{sum((line) => (line.covered ? 0 : line.amount.minor))}</td>
      <td />
    </>
  );
}

const decidedWords: Record<Kind, string> = {
  hold: "Held",
  release: "Released",
  write: "Wrote",
  no_charge: "At no charge:",
  write_off: "Wrote off",
  divide: "Divided",
  move: "Moved",
};

/** The day of a line, and the way to what it is of. */
function Source({ line, stop }: { line: Line; stop: number }) {
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
  if (line.lineId === 0)
    return <span className="soft">{line.hold ? "held" : line.overCap ? "over the cap" : "stays unbilled"}</span>;
  if (line.covered) return <span className="soft">in the fee</span>;
  return (
    <Explained step={line.explanation} label={`value of ${line.text}`}>
      {line.treatment === "no_charge" ? "no charge" : money(line.amount, true)}
    </Explained>
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
