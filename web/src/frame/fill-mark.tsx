import type { Schema } from "../api/client";
import fillMarkCss from "./fill-mark.module.css";

type State = Schema["Summary"]["state"];

export const stateWords: Record<State, string> = {
  draft: "draft",
  in_approval: "in approval",
  approved: "approved",
  issued: "issued",
  part_paid: "part paid",
  paid: "paid",
};

const share: Record<State, number> = {
  draft: 0,
  in_approval: 0.25,
  approved: 0.5,
  issued: 0.75,
  part_paid: 0.75,
  paid: 1,
};

/** How far an invoice has come: a ring that fills from draft to paid. */
export function FillMark({ state }: { state: State }) {
  const filled = share[state];
  const turn = 2 * Math.PI * filled;
  const x = 8 + 6 * Math.sin(turn);
  const y = 8 - 6 * Math.cos(turn);
  return (
    <svg
      className={fillMarkCss.fillMark}
      viewBox="0 0 16 16"
      width="15"
      height="15"
      role="img"
      aria-label={stateWords[state]}
    >
      <circle cx="8" cy="8" r="6.5" fill="none" stroke="currentColor" />
      {filled === 1 && <circle cx="8" cy="8" r="6" fill="currentColor" />}
      {filled > 0 && filled < 1 && <path d={`M8 8V2A6 6 0 ${filled > 0.5 ? 1 : 0} 1 ${x} ${y}Z`} fill="currentColor" />}
    </svg>
  );
}
