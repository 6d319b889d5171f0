import { useVirtualizer } from "@tanstack/react-virtual";
import { Checkbox } from "antd";
import { clsx } from "clsx";
import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from "react";
import deskCss from "../desk.module.css";
import { Do } from "../do";
import { openExplanation, RowsContext } from "../explain";
import { inField } from "../keys";
import railCss from "../rail.module.css";
import { Failed, type Reads } from "../state";
import tableCss from "../table.module.css";
import { ListBar } from "./bar";
import { Cell, Foot } from "./cell";
import { Head } from "./head";
import listCss from "./list.module.css";
import { looks } from "./table";
import type { Choice, Column, ListState } from "./use-list";

interface Props<R> {
  /** What it is, for who can't see it. */
  label: string;
  list: ListState<R>;
  /** Where the rows come from: while it is read nothing is told as empty, and a failure says so. */
  read: Reads;
  /** What stands there when the server has answered that there is nothing. */
  empty: ReactNode;
  /** Keys of its own, on the current row. */
  keys?: Record<string, (row: R) => void>;
  onOpen?: (row: R) => void;
  /** When a row is clicked, besides going to it. */
  onClick?: (row: R) => void;
  choice?: Choice<R>;
  /** Classes of a row. */
  tone?: (row: R) => string | false | undefined;
  /** A row that stands across columns of its own, such as the head of a group. */
  across?: (row: R) => ReactNode;
  className?: string;
  /** It stands in a folio, without filter and choice of columns. */
  inFolio?: boolean;
  /** It has the keyboard when the desk opens. */
  main?: boolean;
}

/** Beyond so many rows only those in sight are drawn. */
const many = 200;

/**
 * The one list of all desks: heads that sort, columns and widths as each person keeps them, sums at the foot, a filter,
 * rows that are chosen and opened, the same keys, any length.
 */
export function List<R>(props: Props<R>) {
  const { list, read, label, choice } = props;
  const box = useRef<HTMLElement>(null);
  const columns = list.columns.filter((c) => c.names || !list.kept.hidden.includes(c.name));
  const { total } = list.source;
  const fixed = columns.some((c) => c.width);
  const sight = useSight(box, list.source);
  const keys = useKeys(props, box, sight.show);
  useEffect(() => {
    const from = document.activeElement;
    // Not from a field: whoever types goes on typing.
    if (props.main && (from === document.body || from?.closest(`.${railCss.rail}, .${deskCss.views}`)))
      box.current?.focus({ preventScroll: true });
  }, [props.main]);
  if (read.error && !read.data) return <Failed of={read.error} again={read.refetch} />;
  if (read.data !== undefined && list.whole === 0) return <div className={deskCss.empty}>{props.empty}</div>;
  const width = columns.length + (choice ? 1 : 0);
  return (
    <>
      {!props.inFolio && <ListBar list={list} />}
      {read.error && <Failed of={read.error} again={read.refetch} />}
      <section
        className={props.inFolio ? listCss.inFolio : clsx(deskCss.sheet, listCss.list)}
        aria-label={label}
        aria-busy={read.isPending || undefined}
        ref={box}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the list takes the keys of its rows
        tabIndex={0}
        onKeyDown={keys}
      >
        <table
          className={clsx(looks[props.inFolio ? "entries" : "grid"], fixed && listCss.fixed, props.className)}
          aria-rowcount={total + 1}
        >
          <thead>
            <Over columns={columns} box={Boolean(choice)} />
            <tr>
              {choice && (
                <th scope="col" className={tableCss.box}>
                  <Everything choice={choice} source={list.source} />
                </th>
              )}
              {columns.map((c) => (
                <Head key={c.name} column={c} list={list} />
              ))}
            </tr>
          </thead>
          <tbody>
            <RowsContext value={true}>
              <Space rows={sight.above} columns={width} />
              {sight.drawn.map((index) => (
                <ListRow key={keyOf(list, index)} {...props} columns={columns} index={index} measure={sight.measure} />
              ))}
              <Space rows={sight.below} columns={width} />
            </RowsContext>
          </tbody>
          {columns.some((c) => c.sum) && <Foot columns={columns} rows={all(list.source)} box={Boolean(choice)} />}
        </table>
        {read.data !== undefined && total === 0 && (
          <p className={deskCss.empty}>
            Nothing here has “{list.filter?.sought}” in it.{" "}
            <Do onClick={() => list.filter?.setSought("")}>Show everything</Do>
          </p>
        )}
      </section>
    </>
  );
}

const all = <R,>(source: ListState<R>["source"]): R[] => {
  const rows: R[] = [];
  for (let index = 0; index < source.total; index++) {
    const row = source.at(index);
    if (row !== undefined) rows.push(row);
  }
  return rows;
};

const keyOf = <R,>(list: ListState<R>, index: number) => {
  const row = list.source.at(index);
  return row === undefined ? `unread ${index}` : list.id(row);
};

/** Which rows are drawn: all of them, or those in sight with empty space above and below; on paper all of them. */
function useSight<R>(box: React.RefObject<HTMLElement | null>, { total, see }: ListState<R>["source"]) {
  const [printing, setPrinting] = useState(false);
  useEffect(() => {
    const before = () => setPrinting(true);
    const after = () => setPrinting(false);
    window.addEventListener("beforeprint", before);
    window.addEventListener("afterprint", after);
    return () => {
      window.removeEventListener("beforeprint", before);
      window.removeEventListener("afterprint", after);
    };
  }, []);
  const rows = useVirtualizer({
    count: total,
    enabled: total > many && !printing,
    getScrollElement: () => box.current,
    estimateSize: () => 32,
    overscan: 20,
  });
  const items = rows.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? Math.min(total, many) - 1;
  useEffect(() => see?.(first, last + 1), [see, first, last]);
  // A row that is not drawn yet is brought into sight by its place.
  const show = (index: number) => {
    if (total > many) rows.scrollToIndex(index);
    else box.current?.querySelector(`[data-row="${index}"]`)?.scrollIntoView({ block: "nearest" });
  };
  if (total <= many || printing)
    return {
      show,
      drawn: Array.from({ length: total }, (_, i) => i),
      above: 0,
      below: 0,
      measure: undefined,
    };
  return {
    show,
    drawn: items.map((item) => item.index),
    above: items[0]?.start ?? 0,
    below: rows.getTotalSize() - (items.at(-1)?.end ?? 0),
    measure: rows.measureElement,
  };
}

function Space({ rows: height, columns }: { rows: number; columns: number }) {
  if (height <= 0) return null;
  return (
    <tr aria-hidden className={listCss.space}>
      <td colSpan={columns} style={{ height }} />
    </tr>
  );
}

/** Heads over several columns. */
function Over<R>({ columns, box }: { columns: Column<R>[]; box: boolean }) {
  if (!columns.some((c) => c.over)) return null;
  const spans: { over: string; first: string; columns: number }[] = [];
  for (const c of columns) {
    const last = spans.at(-1);
    if (last && last.over === (c.over ?? "")) last.columns++;
    else spans.push({ over: c.over ?? "", first: c.name, columns: 1 });
  }
  return (
    <tr>
      {box && <td />}
      {spans.map((span) =>
        span.over ? (
          <th key={span.first} scope="colgroup" colSpan={span.columns} className={listCss.groupHead}>
            {span.over}
          </th>
        ) : (
          <td key={span.first} colSpan={span.columns} />
        ),
      )}
    </tr>
  );
}

/** The box in the head: all that is shown, or nothing. */
function Everything<R>({ choice, source }: { choice: Choice<R>; source: ListState<R>["source"] }) {
  const rows = choice.all ? [] : all(source); // of a long list not all are here
  const chosen = choice.all?.chosen ?? rows.filter(choice.has).length;
  const some = chosen > 0 || rows.some((row) => choice.some?.(row));
  return (
    <Checkbox
      aria-label="Select everything"
      disabled={source.total === 0}
      checked={chosen > 0 && chosen === source.total}
      indeterminate={some && chosen < source.total}
      onChange={() => (choice.all ? choice.all.flip() : choice.set(rows, chosen < rows.length))}
    />
  );
}

/** The keys of a list that has the focus: to move, to choose, to open; others as the desk gives them. */
function useKeys<R>(
  { list, choice, keys = {}, onOpen }: Props<R>,
  box: React.RefObject<HTMLElement | null>,
  show: (index: number) => void,
) {
  const { current, source } = list;
  const go = (to: number, choosing: boolean) => {
    const index = Math.max(0, Math.min(source.total - 1, to));
    const row = source.at(index);
    if (choosing && choice) {
      const passed = [source.at(current), row].filter((r) => r !== undefined);
      choice.set(passed, true);
    }
    list.move(index);
    requestAnimationFrame(() => show(index));
  };
  const steps: Record<string, number> = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1, PageDown: 15, PageUp: -15 };
  return (event: KeyboardEvent) => {
    const boxed = event.target instanceof HTMLInputElement && event.target.type === "checkbox";
    if ((inField(event.target) && !boxed) || event.ctrlKey || event.altKey || event.metaKey) return;
    const row = source.at(current);
    const step = steps[event.key] ?? steps[event.key.toLowerCase()];
    const own = keys[event.key];
    const onControl = event.target instanceof HTMLButtonElement || event.target instanceof HTMLAnchorElement;
    if (step) go(current + step, event.shiftKey);
    else if (event.key === "Home") go(0, event.shiftKey);
    else if (event.key === "End") go(source.total - 1, event.shiftKey);
    else if (event.key === "/") toFilter(box.current);
    else if (row === undefined) return;
    else if (own && !(event.key === "Enter" && onControl)) own(row);
    else if (event.key === "x" && choice) choice.set([row], !choice.has(row));
    else if (event.key === "=") openExplanation(box.current?.querySelector(`[data-row="${current}"]`));
    else if (event.key === "Enter" && onOpen && !onControl) onOpen(row);
    else return;
    event.preventDefault();
  };
}

/** To the filter of the list, or to the sentence where it has none. */
function toFilter(box: HTMLElement | null) {
  const own = box?.parentElement?.querySelector<HTMLElement>(`.${listCss.listFilter} input`);
  const field = own ?? document.querySelector<HTMLElement>("[data-sentence] input");
  field?.focus();
}

interface RowProps<R> extends Props<R> {
  columns: Column<R>[];
  index: number;
  measure?: (row: Element | null) => void;
}

function ListRow<R>({ list, columns, index, measure, choice, tone, across, onOpen, onClick }: RowProps<R>) {
  const row = list.source.at(index);
  if (row === undefined)
    return (
      <tr aria-rowindex={index + 2} data-index={index} className={listCss.unread}>
        <td colSpan={columns.length + (choice ? 1 : 0)} />
      </tr>
    );
  const chosen = choice?.has(row);
  const classes = [
    index === list.current && (list.opened ? "current open" : "current"),
    (chosen || choice?.some?.(row)) && "picked",
    tone?.(row),
  ];
  return (
    <tr
      ref={measure}
      aria-rowindex={index + 2}
      data-row={index}
      data-index={index}
      className={classes.filter(Boolean).join(" ")}
      onClick={() => {
        list.move(index);
        onClick?.(row);
      }}
      onDoubleClick={() => onOpen?.(row)}
    >
      {choice && (
        <td className={tableCss.box}>
          <Checkbox
            tabIndex={-1}
            aria-label={`Select ${choice.label(row)}`}
            checked={chosen}
            indeterminate={!chosen && choice.some?.(row)}
            onClick={(event) => event.stopPropagation()}
            onChange={() => choice.set([row], !chosen)}
          />
        </td>
      )}
      {across?.(row) || columns.map((c) => <Cell key={c.name} column={c} row={row} width={list.kept.widths[c.name]} />)}
    </tr>
  );
}
