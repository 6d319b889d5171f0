import { Link } from "react-router";
import { hoursText } from "../../api/hours";
import { useRead } from "../../api/read";
import { long } from "../../frame/days";
import { Money } from "../../frame/figure";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { weekOf } from "./entry-rows";
import { State } from "./state";
import type { Entry } from "./use-week";
import type { ExpenseLine } from "./use-work";

const shown = 6;

/** What was recorded last on an engagement, or on all engagements of a client. */
const useLast = (of: "time" | "expenses", on: On) =>
  useRead("/api/work", { query: { of, ...on, limit: shown } as never }, { keeps: true });

type On = { engagements: string } | { clients: string };

const entries: Column<Entry>[] = [
  { name: "Day", whole: true, cell: (entry) => long(entry.day) },
  { name: "Who", cell: (entry) => entry.initials },
  {
    name: "Text",
    names: "light",
    cell: (entry) => <Link to={weekOf(entry)}>{entry.text || entry.service}</Link>,
  },
  { name: "Worked", number: true, cell: (entry) => hoursText(entry.minutes) },
  { name: "Value", number: true, cell: (entry) => entry.value && <Money of={entry.value} /> },
  { name: "State", cell: (entry) => <State of={entry} /> },
];

const expenses: Column<ExpenseLine>[] = [
  { name: "Day", whole: true, cell: (line) => long(line.day) },
  { name: "Who", cell: (line) => line.initials },
  {
    name: "What",
    names: "light",
    cell: (line) => <Link to={`/time/expenses/${line.purchaseId}`}>{line.text || line.category}</Link>,
  },
  { name: "Category", cell: (line) => line.category },
  { name: "To charge", number: true, cell: (line) => line.value && <Money of={line.value} /> },
  { name: "State", cell: (line) => <State of={line} /> },
];

/** The last entries, and the way to all of them. */
export function TimeOf({ on }: { on: On }) {
  const last = useLast("time", on);
  if (!last.data || last.data.total === 0) return null;
  return (
    <section aria-label="Time">
      <h2 className="sub">Time</h2>
      <Table rows={last.data.entries} columns={entries} id={(entry) => entry.id} />
      {last.data.total > shown && (
        <Link to={`/time/list?from=any&${new URLSearchParams(on)}`}>
          All {last.data.total.toLocaleString("en")} entries
        </Link>
      )}
    </section>
  );
}

/** The last expenses, what they come to, and the way to all of them. */
export function ExpensesOf({ on }: { on: On }) {
  const last = useLast("expenses", on);
  if (!last.data || last.data.total === 0) return null;
  return (
    <section aria-label="Expenses">
      <h2 className="sub">
        Expenses{" "}
        {last.data.values.map((sum) => (
          <span key={sum.currency} className="soft">
            <Money of={sum} /> to charge, net{" "}
          </span>
        ))}
      </h2>
      <Table rows={last.data.expenses} columns={expenses} id={(line) => line.id} />
      {last.data.total > shown && (
        <Link to={`/time/expenses?from=any&${new URLSearchParams(on)}`}>
          All {last.data.total.toLocaleString("en")} expenses
        </Link>
      )}
    </section>
  );
}
