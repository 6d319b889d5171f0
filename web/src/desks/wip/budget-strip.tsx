import type { Schema } from "../../api/client";
import budgetCss from "../engagements/budget.module.css";

/** How much of a budget is used: a bar up to its mark, with the figure beside. */
export function BudgetStrip({ budget }: { budget?: Schema["BudgetShare"] }) {
  if (!budget) return <span className="soft">none</span>;
  const percent = Math.round(budget.share / 10_000);
  return (
    <span className={budgetCss.budget} title={`${budget.used} of ${budget.limit} ${budget.of}`}>
      <span className={budgetCss.budgetStrip} aria-hidden>
        <span className={percent > 100 ? budgetCss.over : ""} style={{ width: `${Math.min(percent, 100)}%` }} />
      </span>
      <span className={percent > 100 ? "lost" : "soft"}>{percent} %</span>
    </span>
  );
}
