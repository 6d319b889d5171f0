import { Modal } from "antd";
import { type KeyboardEvent, useRef } from "react";
import { useLocation } from "react-router";

/** Whether a key press belongs to a field, where letters are letters. */
export function inField(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.closest("input, textarea, select, [contenteditable=true]") !== null;
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

const anywhere = [
  ["Alt 1 … Alt 5", "go to a stage"],
  ["Ctrl K", "find or do anything"],
  ["?", "these keys"],
];

const onDesks: Record<string, string[][]> = {
  "/pricing/": [
    ["↑ ↓, Enter", "move in the grid; Enter keeps what was typed"],
    ["type", "a price; x, optional, or - for not in it; 3 or 3 at 640 of units; ? lets the client choose"],
    ["Alt ↑, Alt ↓", "move the service"],
    ["F2", "everything about the service"],
    ["Ctrl Delete", "take the service out"],
    ["Esc", "what was there before"],
  ],
  "/pricing": [
    ["↑ ↓ or k j", "move"],
    ["Enter", "open"],
  ],
  "/time/list": [
    ["↑ ↓ or k j", "move"],
    ["x", "select or leave"],
    ["Enter", "open in its week"],
    ["/", "to the filters"],
  ],
  "/time/": [
    ["↑ ↓ or k j", "move"],
    ["Enter", "open"],
    ["/", "to the filters"],
  ],
  "/time": [
    ["arrows", "move in the grid"],
    ["type", "time, such as 1:30, 1.5 or 90m"],
    ["Enter", "save and go down"],
    ["Esc", "what was there before"],
    ["Tab", "next cell; from a cell, F2 goes to its text"],
    ["t", "start a timer, outside of the grid and of fields"],
  ],
  "/wip": [
    ["↑ ↓ or k j", "move"],
    ["x", "select or leave"],
    ["Enter", "open in the folio"],
    ["=", "how the figure was made"],
    ["t, e, c", "leave its time, expenses or charges, or take them"],
    ["s", "its client's work on one invoice or separate ones"],
    ["f", "the next finding"],
    ["d", "make drafts of what is selected"],
    ["h, w, n", "on entries: hold, write down or up, no charge"],
    ["o, v, m", "on entries: write off, divide, move"],
    ["/", "to the filters"],
  ],
  "/clients": [
    ["↑ ↓ or k j", "move"],
    ["Enter", "open the overview"],
    ["/", "to the filters"],
  ],
  "/set-up": [
    ["↑ ↓ or k j", "move"],
    ["Enter", "open"],
    ["/", "to the filters"],
    ["Enter, Esc", "in a value: keep it, leave it"],
  ],
  "/billing/new": [
    ["type, Enter", "choose the client"],
    ["Enter", "begin the draft"],
  ],
  "/receivables": [
    ["↑ ↓ or k j", "move"],
    ["/", "to the filters"],
  ],
  "/billing": [
    ["↑ ↓ or k j", "move"],
    ["Enter", "open"],
    ["=", "how the figure was made"],
    ["x", "choose a draft; on a line: take it out, or put it on"],
    ["h, w, n", "hold, write down or up, no charge"],
    ["o, v, m", "write off, divide, move"],
    ["a", "approve, and go to the next"],
    ["f", "the next finding"],
    ["Alt ↑, Alt ↓", "move the line"],
    ["[ and ]", "previous and next draft"],
  ],
};

/** The keys of this screen. */
export function KeysHelp({ onClose }: { onClose: () => void }) {
  const { pathname } = useLocation();
  const here = Object.entries(onDesks).find(([path]) => pathname.startsWith(path))?.[1] ?? [];
  return (
    <Modal open title="Keys" footer={null} onCancel={onClose} width={440}>
      <table className="keys">
        <tbody>
          {[...here, ...anywhere].map(([key, does]) => (
            <tr key={key}>
              <th scope="row">
                <kbd>{key}</kbd>
              </th>
              <td>{does}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Modal>
  );
}
