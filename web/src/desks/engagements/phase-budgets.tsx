import { Input } from "antd";
import { useRef, useState } from "react";
import type { Schema } from "../../api/client";
import { hoursTyped } from "../../api/hours";
import { useSession } from "../../api/session";
import { Do } from "../../frame/do";
import { fixed, hours, typedNumber } from "../../frame/figure";
import type { Column } from "../../frame/list/use-list";
import { type RecordRow, useRecordActs } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import budgetCss from "./budget.module.css";
import { BudgetBar } from "./budget-bar";

type Engagement = Schema["EngagementOverview"];
type Measure = "hours" | "fees" | "expenses";

const measures: Measure[] = ["hours", "fees", "expenses"];

/** Which field of a budget has its limit. */
const fieldOf = (measure: Measure) => (measure === "hours" ? "hours" : "amount");

/** The budget of a phase, or of the engagement itself (0), that is used once. */
const budgetOf = (engagement: Engagement, measure: Measure, phaseId: number) =>
  engagement.budgets.find((b) => b.measure === measure && b.phaseId === phaseId && b.renewal === "once");

/** Writes limits of budgets: made, changed, or taken away where nothing is typed. */
function useLimits(engagement: Engagement) {
  const acts = useRecordActs("budgets");
  const set = (measure: Measure, phase: { id: number; key: string } | undefined, typed: string) => {
    const budget = budgetOf(engagement, measure, phase?.id ?? 0);
    if (!budget && !typed) return Promise.resolve();
    if (!budget)
      return acts.add.mutateAsync({
        engagement: engagement.code,
        ...(phase && { phase: phase.key }),
        measure,
        [fieldOf(measure)]: typed,
      });
    if (!typed) return acts.remove.mutateAsync({ id: budget.id, version: budget.version });
    return acts.change.mutateAsync({
      records: [{ id: budget.id, version: budget.version }],
      field: fieldOf(measure),
      value: typed,
    });
  };
  return { set, problem: acts.add.error ?? acts.change.error ?? acts.remove.error };
}

/** What a limit reads as, and as what it is typed again. */
function useLimitText(engagement: Engagement) {
  const { decimals, mark } = useSession();
  const { currency } = engagement.unbilled;
  const places = decimals[currency] ?? 2;
  return {
    shown: (measure: Measure, whole: number) => (measure === "hours" ? hours(whole) : fixed(whole, places)),
    typed: (measure: Measure, whole: number) =>
      measure === "hours" ? hoursTyped(whole, mark) : typedNumber(whole, places, mark),
  };
}

/** The budgets of phases, hours, fees and expenses in one row, with their sums against the engagement's own. */
export const budgetColumns = (
  engagement: Engagement,
  mayChange: boolean,
  parentOf: (row: RecordRow) => string,
): Column<RecordRow>[] =>
  measures.map((measure) => ({
    name: `${measure[0]?.toUpperCase()}${measure.slice(1)}, budget`,
    number: true,
    cell: (row) => <Limit engagement={engagement} measure={measure} row={row} mayChange={mayChange} />,
    sum: (rows) => (
      <LimitSum engagement={engagement} measure={measure} rows={rows} mayChange={mayChange} parentOf={parentOf} />
    ),
  }));

interface LimitProps {
  engagement: Engagement;
  measure: Measure;
  row: RecordRow;
  mayChange: boolean;
}

function Limit({ engagement, measure, row, mayChange }: LimitProps) {
  const budget = budgetOf(engagement, measure, row.id);
  const text = useLimitText(engagement);
  const limits = useLimits(engagement);
  const [editing, setEditing] = useState(false);
  const label = `${measure} of ${row.title}`;
  const before = budget ? text.typed(measure, budget.whole) : "";
  const sent = useRef(before);
  // Enter and leaving the field are one act; what was not changed is none.
  const save = async (typed: string) => {
    if (typed.trim() !== sent.current) {
      sent.current = typed.trim();
      await limits.set(measure, row, typed.trim()).catch((problem) => {
        sent.current = before;
        throw problem;
      });
    }
    setEditing(false);
  };
  const edit = () => {
    sent.current = before;
    setEditing(true);
  };
  if (editing)
    return (
      <>
        <Input
          autoFocus
          size="small"
          className={budgetCss.limitInput}
          aria-label={label}
          defaultValue={before}
          onPressEnter={(event) => save(event.currentTarget.value).catch(() => {})}
          onBlur={(event) => save(event.currentTarget.value).catch(() => {})}
          onKeyDown={(event) => event.key === "Escape" && setEditing(false)}
        />
        <Refused by={limits.problem} inline />
      </>
    );
  const shown = budget ? text.shown(measure, budget.whole) : "–";
  return (
    <>
      {mayChange ? (
        <button type="button" className="quiet figure" aria-label={`${label}: ${shown}`} onClick={edit}>
          {shown}
        </button>
      ) : (
        shown
      )}
      {budget && (
        <span className="under">
          <BudgetBar share={budget.share} />
        </span>
      )}
    </>
  );
}

interface SumProps {
  engagement: Engagement;
  measure: Measure;
  rows: RecordRow[];
  mayChange: boolean;
  /** The phase of a task, by its name; a phase has none. */
  parentOf: (row: RecordRow) => string;
}

/** What the phases have together; where the engagement has another budget, it can take that. */
function LimitSum({ engagement, measure, rows, mayChange, parentOf }: SumProps) {
  const text = useLimitText(engagement);
  const limits = useLimits(engagement);
  const wholeOf = (row: RecordRow) => budgetOf(engagement, measure, row.id)?.whole;
  const added = (some: RecordRow[], of: (row: RecordRow) => number) => some.reduce((sum, row) => sum + of(row), 0);
  // A phase's own budget has its tasks in it; without one it has theirs.
  const sum = added(
    rows.filter((row) => parentOf(row) === ""),
    (phase) =>
      wholeOf(phase) ??
      added(
        rows.filter((row) => [phase.title, phase.key].includes(parentOf(row))),
        (task) => wholeOf(task) ?? 0,
      ),
  );
  const own = budgetOf(engagement, measure, 0);
  if (sum === 0) return null;
  return (
    <>
      {text.shown(measure, sum)}
      {own && own.whole !== sum && <span className="under lost">of {text.shown(measure, own.whole)} for all</span>}
      {mayChange && own?.whole !== sum && (
        <span className="under">
          <Do
            title="Give the engagement this budget"
            onClick={() => limits.set(measure, undefined, text.typed(measure, sum)).catch(() => {})}
          >
            take it for all
          </Do>
        </span>
      )}
      <Refused by={limits.problem} inline />
    </>
  );
}
