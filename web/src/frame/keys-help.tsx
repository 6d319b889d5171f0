import { useLocation } from "react-router";
import { Dialog } from "./dialog";
import findCss from "./find.module.css";

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
    ["Shift ↑ ↓", "mark several lines: what is done is done to all of them"],
    ["t", "another tax of the marked lines"],
    ["h, w, n", "hold, write down or up, no charge"],
    ["o, v, m", "write off, divide, move"],
    ["a", "approve, and go to the next"],
    ["f", "the next finding"],
    ["Alt ↑, Alt ↓", "move the line"],
    ["[ and ]", "previous and next draft"],
  ],
};

/** The keys of this screen. */
export default function KeysHelp({ onClose }: { onClose: () => void }) {
  const { pathname } = useLocation();
  const here = Object.entries(onDesks).find(([path]) => pathname.startsWith(path))?.[1] ?? [];
  return (
    <Dialog title="Keys" width={440} no="Close" onNo={onClose}>
      <table className={findCss.keys}>
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
    </Dialog>
  );
}
