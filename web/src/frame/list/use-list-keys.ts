import type { KeyboardEvent } from "react";
import { openExplanation } from "../explain";
import { inField } from "../keys";
import type { ListProps } from "./list";
import listCss from "./list.module.css";

/** The keys of a list that has the focus: to move, to choose, to open; others as the desk gives them. */
export function useListKeys<R>(
  { list, choice, keys = {}, onOpen }: ListProps<R>,
  box: React.RefObject<HTMLElement | null>,
  show: (index: number) => void,
) {
  const { current, source, marks } = list;
  const go = (to: number, choosing: boolean) => {
    const index = Math.max(0, Math.min(source.total - 1, to));
    const row = source.at(index);
    if (choosing && choice && !marks) {
      const passed = [source.at(current), row].filter((r) => r !== undefined);
      choice.set(passed, true);
    }
    list.move(index);
    if (choosing) marks?.through(current, index);
    requestAnimationFrame(() => show(index));
  };
  const steps: Record<string, number> = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1, PageDown: 15, PageUp: -15 };
  return (event: KeyboardEvent) => {
    const boxed = event.target instanceof HTMLInputElement && event.target.type === "checkbox";
    if ((inField(event.target) && !boxed) || event.ctrlKey || event.metaKey) return;
    const row = source.at(current);
    const own = keys[event.altKey ? `Alt ${event.key}` : event.key];
    if (event.altKey && !own) return;
    const step = event.altKey ? undefined : (steps[event.key] ?? steps[event.key.toLowerCase()]);
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
