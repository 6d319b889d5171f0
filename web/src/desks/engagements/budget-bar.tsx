const hundred = 1_000_000;

/** How much of a budget is used: a bar with its figure beside it. */
export function BudgetBar({ share }: { share: number }) {
  const percent = Math.round(share / 10_000);
  return (
    <span className="budget-bar" title={`${percent} % of the budget is used`}>
      <span className="bar" aria-hidden>
        <span
          className={share >= hundred ? "bar-used over-budget" : "bar-used"}
          style={{ width: `${Math.min(100, percent)}%` }}
        />
      </span>
      <span className={share >= hundred ? "lost" : "soft"}>{percent} %</span>
    </span>
  );
}
