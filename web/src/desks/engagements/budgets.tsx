import { useState } from "react";
import type { Schema } from "../../api/client";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import { Explained } from "../../frame/explain";
import formCss from "../../frame/form/form.module.css";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import tableCss from "../../frame/table.module.css";
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
  const mayChange = useMayChange("budgets");
  const [making, setMaking] = useState(false);
  const [open, setOpen] = useState(0);
  const { budgets } = engagement;
  return (
    <section aria-label="Budgets">
      <h2 className="sub">Budgets {mayChange && !making && <Do onClick={() => setMaking(true)}>Add a budget</Do>}</h2>
      {making && (
        <div className={formCss.inPlace}>
          <NewRecord
            kind="budgets"
            known={{ engagement: engagement.code }}
            of={engagement.id}
            onMade={() => setMaking(false)}
            onCancel={() => setMaking(false)}
          />
        </div>
      )}
      {budgets.length === 0 && !making && (
        <p className="soft">None yet. A budget warns before work goes past what was agreed.</p>
      )}
      {budgets.length > 0 && (
        <table className={tableCss.grid}>
          <thead>
            <tr>
              <th scope="col">Of</th>
              <th scope="col">For</th>
              <th scope="col" className="number">
                Budget
              </th>
              <th scope="col" className="number">
                Used
              </th>
              <th scope="col">Share</th>
              <th scope="col" className="number">
                Left
              </th>
              <th scope="col">Used up</th>
            </tr>
          </thead>
          <tbody>
            {budgets.map((b) => [
              <BudgetRow key={b.id} budget={b} onOpen={() => setOpen(open === b.id ? 0 : b.id)} />,
              open === b.id && (
                <tr key={`${b.id}-open`}>
                  <td colSpan={7}>
                    <div className={formCss.inPlace}>
                      <RecordSheet kind="budgets" id={b.id} open={["Budget", "Alerts"]} onGone={() => setOpen(0)} />
                    </div>
                  </td>
                </tr>
              ),
            ])}
          </tbody>
        </table>
      )}
    </section>
  );
}

function BudgetRow({ budget: b, onOpen }: { budget: Budget; onOpen: () => void }) {
  const over = b.left.startsWith("−");
  return (
    <tr>
      <th scope="row">
        <Do onClick={onOpen}>{measures[b.measure]}</Do>
        {b.end && (
          <span className="under">
            {periods[b.renewal]}, now to {long(b.end)}
          </span>
        )}
      </th>
      <td>{b.phase || "all of it"}</td>
      <td className="number">{b.limit}</td>
      <td className="number">{b.used}</td>
      <td>
        <BudgetBar share={b.share} />
      </td>
      <td className={over ? "number lost" : "number"}>
        <Explained step={b.explanation} label="left of the budget">
          {b.left}
        </Explained>
      </td>
      <td className={b.late ? "lost nowrap" : "nowrap"}>
        <Explained step={b.forecast} label="forecast">
          {over ? "overrun" : b.exhausted ? long(b.exhausted) : "no forecast"}
        </Explained>
        {b.due && b.late && <span className="under lost">due {long(b.due)}</span>}
      </td>
    </tr>
  );
}
