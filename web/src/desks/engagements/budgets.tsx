import type { Schema } from "../../api/client";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import { Explained } from "../../frame/explain";
import { text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { RecordSection } from "../../frame/record/section";
import { BudgetBar } from "./budget-bar";

type Budget = Schema["BudgetView"];

const measures: Record<Budget["measure"], string> = {
  hours: "Hours",
  fees: "Fees",
  expenses: "Expenses",
  total: "Fees and expenses",
  invoiced: "Invoiced",
};

const periods: Record<Budget["renewal"], string> = {
  once: "",
  week: "each week",
  month: "each month",
  quarter: "each quarter",
  year: "each year",
};

/** The budgets of an engagement: used, left, and when they will be used up. */
export function Budgets({ engagement }: { engagement: Schema["EngagementOverview"] }) {
  return (
    <RecordSection
      kind="budgets"
      label="Budgets"
      add="Add a budget"
      known={{ engagement: engagement.code }}
      of={engagement.id}
      stays
      unfolds={["Budget", "Alerts"]}
      empty={engagement.budgets.length === 0}
      none="None yet. A budget warns before work goes past what was agreed."
    >
      {({ turn, under }) => (
        <Table
          rows={engagement.budgets}
          id={(b) => b.id}
          under={under}
          columns={[
            {
              name: "Of",
              names: "strong",
              cell: (b) => (
                <>
                  <Do onClick={() => turn(b.id)}>{measures[b.measure]}</Do>
                  {b.end && (
                    <span className="under">
                      {periods[b.renewal]}, now to {long(b.end)}
                    </span>
                  )}
                </>
              ),
            },
            ...columns,
          ]}
        />
      )}
    </RecordSection>
  );
}

const isOver = (b: Budget) => b.left.startsWith("−");

const columns: Column<Budget>[] = [
  text("For", (b) => b.phase || "all of it"),
  text("Budget", (b) => b.limit, { number: true }),
  text("Used", (b) => b.used, { number: true }),
  { name: "Share", cell: (b) => <BudgetBar share={b.share} /> },
  {
    name: "Left",
    number: true,
    tone: (b) => isOver(b) && "lost",
    cell: (b) => (
      <Explained step={b.explanation} label="left of the budget">
        {b.left}
      </Explained>
    ),
  },
  {
    name: "Used up",
    whole: true,
    tone: (b) => b.late && "lost",
    cell: (b) => (
      <>
        <Explained step={b.forecast} label="forecast">
          {isOver(b) ? "overrun" : b.exhausted ? long(b.exhausted) : "no forecast"}
        </Explained>
        {b.due && b.late && <span className="under lost">due {long(b.due)}</span>}
      </>
    ),
  },
];
