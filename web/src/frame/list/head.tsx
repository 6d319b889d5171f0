import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import listCss from "./list.module.css";
import type { Column, ListState } from "./use-list";

const narrowest = 40;

/** The head of a column: it sorts, and its edge makes the column wider or narrower. */
export function Head<R>({ column, list }: { column: Column<R>; list: ListState<R> }) {
  const cell = useRef<HTMLTableCellElement>(null);
  const { order, widths } = list.kept;
  const sorted = order?.column === column.name ? order : undefined;
  const [dragged, setDragged] = useState<number>();
  const width = dragged ?? (widths[column.name] || undefined);
  const setWidth = (to: number) =>
    list.keep({ widths: { ...widths, [column.name]: Math.max(narrowest, Math.round(to)) } });
  // By it, against it, then as the rows came.
  const sort = () =>
    list.keep({
      order: !sorted ? { column: column.name, down: false } : sorted.down ? undefined : { ...sorted, down: true },
    });
  const drag = (event: PointerEvent) => {
    const from = event.clientX - (cell.current?.offsetWidth ?? 0);
    const moved = (at: globalThis.PointerEvent) => setDragged(Math.max(narrowest, at.clientX - from));
    const done = (at: globalThis.PointerEvent) => {
      setDragged(undefined);
      if (at.clientX !== event.clientX) setWidth(at.clientX - from);
      window.removeEventListener("pointermove", moved);
      window.removeEventListener("pointerup", done);
    };
    window.addEventListener("pointermove", moved);
    window.addEventListener("pointerup", done);
    event.preventDefault();
  };
  const keys = (event: KeyboardEvent) => {
    const by = event.altKey ? { ArrowRight: 10, ArrowLeft: -10 }[event.key] : undefined;
    if (!by) return;
    setWidth((width ?? cell.current?.offsetWidth ?? 0) + by);
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <th
      ref={cell}
      scope="col"
      className={column.number ? "number" : undefined}
      style={width ? { width, minWidth: width } : { width: column.width }}
      aria-sort={sorted ? (sorted.down ? "descending" : "ascending") : undefined}
    >
      {column.by ? (
        <button
          type="button"
          className={listCss.listHead}
          onClick={sort}
          onKeyDown={keys}
          title={`Sort by ${column.name}`}
        >
          {column.head ?? column.name}
          {sorted && <span aria-hidden>{sorted.down ? " ↓" : " ↑"}</span>}
        </button>
      ) : (
        (column.head ?? column.name)
      )}
      <span
        className={listCss.listEdge}
        aria-hidden
        onPointerDown={drag}
        onDoubleClick={() => list.keep({ widths: { ...widths, [column.name]: 0 } })}
      />
    </th>
  );
}
