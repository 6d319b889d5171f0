import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import { short } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Money, Moneys } from "../../frame/figure";
import { List } from "../../frame/list/list";
import { type Column, usePagedList } from "../../frame/list/use-list";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { GroupTable } from "./group-table";
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
  const pages = useWorkPages(sought, expensesOf);
  const { whole } = pages;
  const [open, setOpen] = useState<ExpenseLine>();
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<TimeViews />}>Expenses</Title>
        <WorkSentence sought={sought} by={by} choices={choices.data} onGo={go} />
        {by === "" ? (
          <ExpenseRows sought={sought} pages={pages} onOpen={setOpen} />
        ) : (
          <GroupTable sought={sought} by={by} onGo={go} />
        )}
      </div>
      <PurchaseFolio id={open?.purchaseId ?? whole?.expenses[0]?.purchaseId ?? 0} />
      <Tally
        of={pages.read}
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
        <TallySum figure={(whole?.total ?? 0).toLocaleString("en")} what="expenses" />
        {whole && whole.values.length > 0 && <TallySum figure={<Moneys of={whole.values} />} what="to charge, net" />}
      </Tally>
    </>
  );
}

const expensesOf = (page: WorkPage) => page.expenses;

interface RowsProps {
  sought: Sought;
  pages: ReturnType<typeof useWorkPages<ExpenseLine>>;
  onOpen: (line: ExpenseLine) => void;
}

function ExpenseRows({ sought, pages, onOpen }: RowsProps) {
  const { seesValues } = useSession();
  const navigate = useNavigate();
  const list = usePagedList({
    name: "expenses",
    columns: columns(seesValues),
    id: (line: ExpenseLine) => line.id,
    of: sought,
    ...pages,
  });
  const move = (index: number) => {
    list.move(index);
    const line = pages.at(index);
    if (line) onOpen(line);
  };
  return (
    <List
      main
      label="Expenses"
      list={{ ...list, move }}
      read={pages.read}
      onOpen={(line) => navigate(`/time/expenses/${line.purchaseId}`)}
      empty={<p>No expenses here. Record one, or choose other people, clients, states or days.</p>}
    />
  );
}

const columns = (values: boolean): Column<ExpenseLine>[] => [
  { name: "Used", width: 62, cell: (line) => short(line.day) },
  { name: "Who", width: 38, title: (line) => line.person, cell: (line) => line.initials },
  { name: "Category", width: 104, cell: (line) => line.category },
  {
    name: "Engagement",
    width: "20%",
    title: (line) => (line.client ? `${line.client} › ${line.engagement}` : line.engagement),
    cell: (line) => line.engagement,
  },
  {
    name: "Text",
    title: (line) => line.text,
    cell: (line) => (
      <Link to={`/time/expenses/${line.purchaseId}`} className="quiet" tabIndex={-1}>
        {line.text || line.supplier || <span className="soft">no text</span>}
      </Link>
    ),
  },
  { name: "Billed", width: 86, tone: () => "soft", cell: billedWord },
  { name: "Cost", width: 66, number: true, cell: (line) => <Money of={line.cost} /> },
  ...(values
    ? [
        {
          name: "Value",
          width: 66,
          number: true,
          cell: (line: ExpenseLine) => line.value && <Money of={line.value} />,
        },
      ]
    : []),
  { name: "Receipt", width: 56, tone: () => "soft", cell: (line) => (line.files > 0 ? "yes" : "–") },
  { name: "State", width: 78, cell: (line) => <State of={line} /> },
];
