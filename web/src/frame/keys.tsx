import { type KeyboardEvent, useRef } from "react";

/** Whether a key press belongs to a field or the form around it, where letters are letters. */
export function inField(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && target.closest("input, textarea, select, form, [contenteditable=true]") !== null
  );
}

/** Enter on a button or a link is its own. */
const onControl = (target: EventTarget) => target instanceof HTMLButtonElement || target instanceof HTMLAnchorElement;

/**
 * The keys of a list that has the focus: arrows or j and k move, others as given. Rows are the elements with
 * data-row; the list keeps one of them current.
 */
export function useListKeys<T>(
  rows: T[],
  current: number,
  moveTo: (index: number) => void,
  acts: Record<string, (row: T) => void>,
) {
  const list = useRef<HTMLDivElement>(null);
  const onKeyDown = (event: KeyboardEvent) => {
    const boxed = event.target instanceof HTMLInputElement && event.target.type === "checkbox";
    if ((inField(event.target) && !boxed) || event.ctrlKey || event.altKey || event.metaKey) return;
    const go = (index: number) => {
      const to = Math.max(0, Math.min(rows.length - 1, index));
      moveTo(to);
      list.current?.querySelector(`[data-row="${to}"]`)?.scrollIntoView({ block: "nearest" });
    };
    const row = rows[current];
    if (event.key === "ArrowDown" || event.key === "j") go(current + 1);
    else if (event.key === "ArrowUp" || event.key === "k") go(current - 1);
    else if (event.key === "Home") go(0);
    else if (event.key === "End") go(rows.length - 1);
    else if (row !== undefined && acts[event.key] && !(event.key === "Enter" && onControl(event.target)))
      acts[event.key]?.(row);
    else return;
    event.preventDefault();
  };
  return { ref: list, tabIndex: 0, onKeyDown };
}
