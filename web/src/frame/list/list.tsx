import { useVirtualizer } from "@tanstack/react-virtual";
import { Checkbox } from "antd";
import { clsx } from "clsx";
import { Fragment, type HTMLAttributes, type ReactNode, useEffect, useRef, useState } from "react";
import { useAct } from "../../api/act";
import deskCss from "../desk.module.css";
import { Do } from "../do";
import { RowsContext } from "../explain";
import railCss from "../rail.module.css";
import { Failed, type Reads, Refused } from "../state";
import tableCss from "../table.module.css";
import { ListBar } from "./bar";
import { Foot, SumCells } from "./cell";
import { Head } from "./head";
import listCss from "./list.module.css";
import { ListRow } from "./row";
import { looks } from "./table";
import type { Choice, Column, ListState } from "./use-list";
import { useListKeys } from "./use-list-keys";

export interface ListProps<R> {
  /** What it is, for who can't see it. */
  label: string;
  list: ListState<R>;
  /** Where the rows come from: while it is read nothing is told as empty, and a failure says so. */
  read: Reads;
  /** What stands there when the server has answered that there is nothing. */
  empty: ReactNode;
  /** Keys of its own, on the current row; with Alt as "Alt ArrowUp". */
  keys?: Record<string, (row: R) => void>;
  onOpen?: (row: R) => void;
  /** When a row is clicked, besides going to it. */
  onClick?: (row: R) => void;
  choice?: Choice<R>;
  /** Classes of a row. */
  tone?: (row: R) => string | false | undefined;
  /** A row that stands across columns of its own, such as the head of a group. */
  across?: (row: R) => ReactNode;
  /** Rows of the same follow each other, under a head with their sums. */
  by?: (row: R) => string;
  /** What the element of a row has besides. */
  rowProps?: (row: R) => HTMLAttributes<HTMLTableRowElement> | undefined;
  /** What stands before the filter. */
  bar?: ReactNode;
  className?: string;
  /** Tab stops in the current row. */
  stops?: boolean;
  /** It grows with its rows, in a page that scrolls. */
  inPage?: boolean;
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
export function List<R>(props: ListProps<R>) {
  const { list, read, label, choice, by } = props;
  const box = useRef<HTMLElement>(null);
  const columns = list.columns.filter((c) => c.names || !list.kept.hidden.includes(c.name));
  const { total } = list.source;
  const fixed = columns.some((c) => c.width);
  const sight = useSight(box, list.source, props.inPage);
  const keys = useListKeys(props, box, sight.show);
  // All of a long list is asked of the server, which may refuse.
  const everything = useAct(async () => choice?.all?.flip(), { changesNothing: true });
  const groups = by ? grouped(all(list.source), by) : undefined;
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
      {!props.inFolio && <ListBar list={list}>{props.bar}</ListBar>}
      {read.error && <Failed of={read.error} again={read.refetch} />}
      <Refused by={everything.error} />
      <section
        className={props.inFolio ? listCss.inFolio : clsx(props.inPage ? listCss.inPage : deskCss.sheet, listCss.list)}
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
                  <Everything choice={choice} source={list.source} onAll={everything.mutate} />
                </th>
              )}
              {columns.map((c) => (
                <Head key={c.name} column={c} list={list} />
              ))}
            </tr>
          </thead>
          <tbody>
            <Space rows={sight.above} columns={width} />
            {sight.drawn.map((index) => (
              <Fragment key={keyOf(list, index)}>
                <GroupHead rows={groups?.get(index)} by={by} columns={columns} box={Boolean(choice)} />
                <RowsContext value={!props.stops || index !== list.current}>
                  <ListRow {...props} columns={columns} index={index} measure={sight.measure} />
                </RowsContext>
              </Fragment>
            ))}
            <Space rows={sight.below} columns={width} />
          </tbody>
          {(list.sums || columns.some((c) => c.sum)) && groups?.size !== 1 && total > 0 && (
            <Foot columns={columns} rows={list.sums ? [] : all(list.source)} sums={list.sums} box={Boolean(choice)} />
          )}
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

/** Where a group of rows begins, and its rows. */
function grouped<R>(rows: R[], by: (row: R) => string): Map<number, R[]> {
  const groups = new Map<number, R[]>();
  let own: R[] = [];
  rows.forEach((row, index) => {
    const before = rows[index - 1];
    if (before === undefined || by(before) !== by(row)) {
      own = [];
      groups.set(index, own);
    }
    own.push(row);
  });
  return groups;
}

interface GroupProps<R> {
  rows?: R[];
  by?: (row: R) => string;
  columns: Column<R>[];
  box: boolean;
}

/** The head of a group: its name across the columns that have no sum, then the sums. */
function GroupHead<R>({ rows, by, columns, box }: GroupProps<R>) {
  const first = rows?.[0];
  if (!rows || !by || first === undefined) return null;
  const summed = columns.findIndex((c) => c.sum && !c.names);
  const across = summed < 0 ? columns.length : summed;
  return (
    <tr className={tableCss.ofClient}>
      <th scope="rowgroup" colSpan={across + (box ? 1 : 0)}>
        {by(first)}
      </th>
      <SumCells columns={columns} from={across} rows={rows} />
    </tr>
  );
}

/** Which rows are drawn: all of them, or those in sight with empty space above and below; on paper all of them. */
function useSight<R>(
  box: React.RefObject<HTMLElement | null>,
  { total, at, see }: ListState<R>["source"],
  inPage: boolean | undefined,
) {
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
  const whole = total <= many || printing || inPage;
  const rows = useVirtualizer({
    count: total,
    enabled: !whole,
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
    if (!whole) rows.scrollToIndex(index);
    else box.current?.querySelector(`[data-row="${index}"]`)?.scrollIntoView({ block: "nearest" });
  };
  if (whole)
    return {
      show,
      // On paper stands what is here.
      drawn: Array.from({ length: total }, (_, i) => i).filter((i) => total <= many || at(i) !== undefined),
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

interface EverythingProps<R> {
  choice: Choice<R>;
  source: ListState<R>["source"];
  onAll: () => void;
}

/** The box in the head: all that is shown, or nothing. */
function Everything<R>({ choice, source, onAll }: EverythingProps<R>) {
  const rows = choice.all ? [] : all(source); // of a long list not all are here
  const chosen = choice.all?.chosen ?? rows.filter(choice.has).length;
  const some = chosen > 0 || rows.some((row) => choice.some?.(row));
  const most = choice.all?.most ?? source.total;
  return (
    <Checkbox
      aria-label={`${choice.does ?? "Select"} everything`}
      title={source.total > most ? `At most ${most} are chosen together: narrow the list first.` : undefined}
      disabled={source.total === 0 || (source.total > most && chosen === 0)}
      checked={chosen > 0 && chosen === source.total}
      indeterminate={some && chosen < source.total}
      onChange={() => (choice.all ? onAll() : choice.set(rows, chosen < rows.length))}
    />
  );
}
