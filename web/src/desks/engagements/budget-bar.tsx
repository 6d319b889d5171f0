import { clsx } from "clsx";
import budgetCss from "./budget.module.css";

const hundred = 1_000_000;

/** How much of a budget is used: a bar with its figure beside it. */
export function BudgetBar({ share }: { share: number }) {
  const percent = Math.round(share / 10_000);
  return (
    <span className={budgetCss.budgetBar} title={`${percent} % of the budget is used`}>
      <span className={budgetCss.bar} aria-hidden>
        <span
          className={share >= hundred ? clsx(budgetCss.barUsed, budgetCss.overBudget) : budgetCss.barUsed}
          style={{ width: `${Math.min(100, percent)}%` }}
        />
      </span>
      <span className={share >= hundred ? "lost" : "soft"}>{percent} %</span>
    </span>
  );
}
