import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import { short } from "../../frame/days";
import { Money, Moneys } from "../../frame/figure";
import { Tally, TallySum } from "../../frame/tally";
import { GroupTable } from "./group-table";
import { Space, useWorkList } from "./long-list";
import { PurchaseFolio } from "./purchase-folio";
import { State } from "./state";
import { TimeViews } from "./time-views";
import { useChoices } from "./use-week";
import { type ExpenseLine, exportAddress, type Sought, useSought, useWorkPages, type WorkPage } from "./use-work";
import { billedWord } from "./words";
import { WorkSentence } from "./work-sentence";

/** Expenses: every share of every purchase, and the way to record one. */
export function ExpensesDesk() {
  const { sought, by, go } = useSought("expenses");
  const choices = useChoices();
  const navigate = useNavigate();
  const whole = useWorkPages(sought, [0]);
  const [open, setOpen] = useState<ExpenseLine>();
  if (whole.error) return <p className="refusal page-refusal">{whole.error.message}</p>;
  return (
    <>
      <div className="desk-main">
        <div className="title-line">
          <h1>Expenses</h1>
          <TimeViews />
        </div>
        <WorkSentence sought={sought} by={by} choices={choices.data} onGo={go} />
        {by === "" ? (
          <ExpenseRows sought={sought} total={whole.any?.total ?? 0} open={open} onOpen={setOpen} />
        ) : (
          <GroupTable sought={sought} by={by} onGo={go} />
        )}
      </div>
      <PurchaseFolio id={open?.purchaseId ?? whole.any?.expenses[0]?.purchaseId ?? 0} />
      <Tally
        actions={
          <>
            <Button href={exportAddress(sought, "csv")}>Save as CSV</Button>
            <Button href={exportAddress(sought, "xlsx")}>as XLSX</Button>
            <Button type="primary" onClick={() => navigate("/time/expenses/new")}>
              Record an expense
            </Button>
          </>
        }
      >
        <TallySum figure={(whole.any?.total ?? 0).toLocaleString("en")} what="expenses" />
        {whole.any && whole.any.values.length > 0 && (
          <TallySum figure={<Moneys of={whole.any.values} />} what="to charge, net" />
        )}
      </Tally>
    </>
  );
}

const expensesOf = (page: WorkPage) => page.expenses;

interface RowsProps {
  sought: Sought;
  total: number;
  open?: ExpenseLine;
  onOpen: (line: ExpenseLine) => void;
}

function ExpenseRows({ sought, total, open, onOpen }: RowsProps) {
  const { seesValues: values } = useSession();
  const navigate = useNavigate();
  const long = useWorkList(sought, total, expensesOf, {
    Enter: (line) => navigate(`/time/expenses/${line.purchaseId}`),
  });
  if (total === 0)
    return <p className="empty">No expenses here. Record one, or choose other people, clients, states or days.</p>;
  return (
    <section className="sheet" aria-label="Expenses" {...long.list}>
      <table className="grid long-list expense-list" aria-rowcount={total + 1}>
        <thead>
          <tr>
            <th scope="col">Used</th>
            <th scope="col">Who</th>
            <th scope="col">Category</th>
            <th scope="col">Engagement</th>
            <th scope="col">Text</th>
            <th scope="col">Billed</th>
            <th scope="col" className="number">
              Cost
            </th>
            {values && (
              <th scope="col" className="number">
                Value
              </th>
            )}
            <th scope="col">Receipt</th>
            <th scope="col">State</th>
          </tr>
        </thead>
        <tbody>
          <Space rows={long.first} columns={10} />
          {long.rows.map(({ index, row: line }) => {
            return (
              <ExpenseRow
                key={index}
                index={index}
                line={line}
                current={index === long.current}
                open={line?.id === open?.id}
                onCurrent={() => {
                  long.setCurrent(index);
                  if (line) onOpen(line);
                }}
              />
            );
          })}
          <Space rows={total - long.last} columns={10} />
        </tbody>
      </table>
    </section>
  );
}

interface RowProps {
  index: number;
  line?: ExpenseLine;
  current: boolean;
  open: boolean;
  onCurrent: () => void;
}

function ExpenseRow({ index, line, current, open, onCurrent }: RowProps) {
  if (!line)
    return (
      <tr aria-rowindex={index + 2} className="unread">
        <td colSpan={10} />
      </tr>
    );
  return (
    <tr
      aria-rowindex={index + 2}
      data-row={index}
      className={[current ? "current" : "", open ? "open" : ""].join(" ")}
      onClick={onCurrent}
    >
      <td className="nowrap">{short(line.day)}</td>
      <td title={line.person}>{line.initials}</td>
      <td>{line.category}</td>
      <td title={line.client ? `${line.client} › ${line.engagement}` : line.engagement}>{line.engagement}</td>
      <td title={line.text}>
        <Link to={`/time/expenses/${line.purchaseId}`} className="quiet" tabIndex={-1}>
          {line.text || line.supplier || <span className="soft">no text</span>}
        </Link>
      </td>
      <td className="soft">{billedWord(line)}</td>
      <td className="number">
        <Money of={line.cost} />
      </td>
      {line.value && (
        <td className="number">
          <Money of={line.value} />
        </td>
      )}
      <td className="soft">{line.files > 0 ? "yes" : "–"}</td>
      <td>
        <State of={line} />
      </td>
    </tr>
  );
}
