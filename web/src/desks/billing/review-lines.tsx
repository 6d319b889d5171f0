import { useEffect, useState } from "react";
import { useLocation } from "react-router";
import { short } from "../../frame/days";
import { Do } from "../../frame/do";
import { List } from "../../frame/list/list";
import { useList } from "../../frame/list/use-list";
import { there } from "../../frame/state";
import { DecideBar, DecideForm, decisions, type Kind } from "../wip/decide-form";
import type { Decision } from "../wip/use-wip";
import { HandLine } from "./hand-line";
import { arranged, idOf, isOut, linesInHand, moved } from "./line-order";
import reviewCss from "./review.module.css";
import { lineColumns } from "./review-columns";
import { TaxForm } from "./tax-form";
import type { Invoice, Line, LineTyped } from "./use-billing";

interface Props {
  invoice: Invoice;
  mayEdit: boolean;
  onTakeOut: (lines: Line[]) => void;
  onPutOn: (lines: Line[], release: boolean) => void;
  onText: (line: Line, text: string) => Promise<unknown>;
  onChange: (line: Line, typed: LineTyped) => Promise<unknown>;
  onOrder: (lineIds: number[]) => void;
  onDecide: (lines: Line[], decision: Decision, said: string) => Promise<unknown>;
  onApprove: () => void;
  onFinding: () => void;
  onStep: (by: number) => void;
}

/**
 * The lines of a draft: a box says whether a line is on it, one or many that are marked are decided on, their order, and
 * the text that the client reads.
 */
export function ReviewLines(props: Props) {
  const { invoice, mayEdit, onStep } = props;
  const [showsOut, setShowsOut] = useState(invoice.lines.some((line) => line.portionId !== 0));
  const [editing, setEditing] = useState<string>();
  const [dragged, setDragged] = useState<Line>();
  const [asking, setAsking] = useState<Kind | "tax">();
  const rows = showsOut ? arranged(invoice) : invoice.lines;
  const list = useList({
    name: "lines of a draft",
    rows,
    columns: lineColumns({
      mayEdit,
      editing,
      onEdit: (line) => setEditing(line && idOf(line)),
      onText: props.onText,
    }),
    id: idOf,
    text: (line) => `${line.engagement} ${line.initials} ${line.text}`,
    marking: mayEdit,
    opensNothing: true,
  });
  useInHand();
  const marked = list.marks?.rows ?? [];
  const on = marked.length > 0 ? marked : list.row ? [list.row] : [];
  const move = (line: Line, by: number) => {
    const ids = mayEdit && !list.filter?.sought ? moved(rows, line, by) : undefined;
    if (ids) props.onOrder(ids);
  };
  const drop = (to: Line) => {
    const ids = [...new Set(rows.filter((line) => !isOut(line)).map((line) => line.lineId))];
    if (dragged && !isOut(to) && to.lineId !== dragged.lineId)
      move(dragged, ids.indexOf(to.lineId) - ids.indexOf(dragged.lineId));
    setDragged(undefined);
  };
  const set = (lines: Line[], there: boolean) => {
    const turned = lines.filter((line) => isOut(line) === there);
    if (turned.length === 0) return;
    if (there) props.onPutOn(turned, false);
    else props.onTakeOut(turned);
  };
  const flip = () => mayEdit && on[0] && set(on, isOut(on[0]));
  const decidable = on.filter((line) => line.portionId !== 0 && !isOut(line));
  const onBill = on.filter((line) => !isOut(line) && !line.covered);
  const leave = () => {
    setAsking(undefined);
    linesInHand()?.focus();
  };
  const askTax = () => mayEdit && onBill.length > 0 && setAsking("tax");
  const ask = (kind: Kind) => mayEdit && decidable.length > 0 && setAsking(kind);
  return (
    <>
      {asking === "tax" && <TaxForm invoice={invoice} lines={onBill} onClose={leave} />}
      {asking && asking !== "tax" && (
        <Deciding
          key={asking}
          kind={asking}
          lines={decidable}
          invoice={invoice}
          onDecide={props.onDecide}
          onClose={leave}
        />
      )}
      <List
        inPage
        label="Entries"
        className="review-lines"
        list={list}
        stops
        read={there(invoice)}
        empty={<p className="soft">No line is on it. Add one, or put on what is unbilled.</p>}
        bar={
          mayEdit &&
          !asking && (
            <Bar on={on} decidable={decidable} onAsk={ask} onFlip={flip} onPutOn={props.onPutOn} onTax={askTax} />
          )
        }
        by={(line) => line.engagement}
        choice={
          mayEdit ? { has: (line) => !isOut(line), set, label: (line) => line.text, does: "On the bill:" } : undefined
        }
        tone={(line) => (isOut(line) ? reviewCss.leftOut : line.covered && reviewCss.covered)}
        across={(line) =>
          editing === idOf(line) && line.source === "none" ? (
            <td colSpan={8}>
              <HandLine
                invoice={invoice}
                line={line}
                onSave={(typed) => props.onChange(line, typed)}
                onDone={() => setEditing(undefined)}
              />
            </td>
          ) : undefined
        }
        rowProps={(line) => ({
          ...{ "data-line": line.lineId || undefined },
          draggable: mayEdit && !isOut(line) && !line.covered && editing !== idOf(line),
          onDragStart: () => setDragged(line),
          onDragOver: (event) => event.preventDefault(),
          onDrop: () => drop(line),
        })}
        keys={{
          x: flip,
          Enter: (line) => mayEdit && !isOut(line) && !line.covered && setEditing(idOf(line)),
          "Alt ArrowUp": (line) => move(line, -1),
          "Alt ArrowDown": (line) => move(line, 1),
          ...Object.fromEntries(decisions.map(({ kind, key }) => [key, () => ask(kind)])),
          t: askTax,
          a: props.onApprove,
          f: props.onFinding,
          "[": () => onStep(-1),
          "]": () => onStep(1),
        }}
      />
      {!showsOut && invoice.leftOut.length > 0 && (
        <p className="soft">
          {invoice.leftOut.length === 1 ? "One unbilled entry is" : `${invoice.leftOut.length} unbilled entries are`}{" "}
          not on it: <Do onClick={() => setShowsOut(true)}>show</Do>
        </p>
      )}
    </>
  );
}

/** Takes the lines in hand, if the desk was come to by a key. */
function useInHand() {
  const { state } = useLocation();
  useEffect(() => {
    if (state?.onLines) linesInHand()?.focus();
  }, [state]);
}

interface BarProps {
  on: Line[];
  decidable: Line[];
  onAsk: (kind: Kind) => void;
  onFlip: () => void;
  onPutOn: (lines: Line[], release: boolean) => void;
  onTax: () => void;
}

/** What can be done with the marked lines. */
function Bar({ on, decidable, onAsk, onFlip, onPutOn, onTax }: BarProps) {
  const first = on[0];
  if (!first) return null;
  const held = on.filter((line) => isOut(line) && line.hold !== "");
  const words = on.length === 1 ? `on the marked line, ${short(first.day)}` : `on ${on.length} marked lines`;
  const flips = (
    <>
      <Do title="Key x" onClick={onFlip}>
        {isOut(first) ? "Put on" : "Take out"}
      </Do>
      {on.some((line) => !isOut(line) && !line.covered) && (
        <Do title="Key t" onClick={onTax}>
          Tax
        </Do>
      )}
    </>
  );
  if (held.length > 0)
    return (
      <DecideBar on={words} only={<Do onClick={() => onPutOn(held, true)}>Release and put on</Do>} onAsk={onAsk} />
    );
  return (
    <DecideBar on={words} only={decidable.length === 0 ? flips : undefined} onAsk={onAsk}>
      {flips}
    </DecideBar>
  );
}

interface DecidingProps {
  kind: Kind;
  lines: Line[];
  invoice: Invoice;
  onDecide: Props["onDecide"];
  onClose: () => void;
}

/** A decision on lines, as it is asked for. */
function Deciding({ kind, lines, invoice, onDecide, onClose }: DecidingProps) {
  const [refused, setRefused] = useState<Error | null>(null);
  const [busy, setBusy] = useState(false);
  const [first] = lines;
  const decide = async (decision: Decision) => {
    setBusy(true);
    try {
      await onDecide(lines, decision, decidedWords[kind]);
      onClose();
    } catch (problem) {
      setRefused(problem as Error);
      setBusy(false);
    }
  };
  return (
    <DecideForm
      kind={kind}
      on={
        lines.length === 1 && first
          ? `${short(first.day)} · ${first.initials} · ${first.text}`
          : `${lines.length} lines together`
      }
      engagements={invoice.around.engagements}
      busy={busy}
      refused={refused}
      onDecide={decide}
      onClose={onClose}
    />
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
