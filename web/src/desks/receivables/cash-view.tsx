import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { long, short } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Money, Moneys, Sums, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { days, several } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import cashCss from "./cash.module.css";
import { MoneyViews } from "./views";

type Week = Schema["CashWeek"];
type Part = Schema["CashPart"];

const columns = (most: number): Column<Week>[] => [
  days("Week from", (w) => w.from, { names: "light" }),
  several("Expected of what is owed", (w) => w.expected),
  several("Planned bills, net", (w) => w.planned),
  {
    name: "By its end",
    head: "Come by its end",
    number: true,
    cell: (w) => <Money of={w.by.mid} />,
  },
  { name: "Range", head: "and between which", cell: (w) => <Curve by={w.by} most={most} /> },
];

/** What will have come by the end of a week: the bar as a rule, the line if all are late or all are early. */
function Curve({ by, most }: { by: Week["by"]; most: number }) {
  const money = useMoneyText();
  const at = (minor: number) => `${(100 * minor) / Math.max(most, 1)}%`;
  const said = `${money(by.late)} to ${money(by.early)}`;
  return (
    <span className={cashCss.curve} role="img" aria-label={said} title={said}>
      <span className={cashCss.mid} style={{ width: at(by.mid.minor) }} />
      <span
        className={cashCss.range}
        style={{ left: at(by.late.minor), width: at(Math.max(by.early.minor - by.late.minor, 0)) }}
      />
    </span>
  );
}

/** What is likely to come, week by week, by how late each client pays as a rule. */
export function CashView() {
  const cash = useRead("/api/cash");
  const weeks = cash.data?.weeks ?? [];
  const most = Math.max(0, ...weeks.map((w) => w.by.early.minor));
  const list = useList({ name: "cash", rows: weeks, columns: columns(most), id: (w) => w.from });
  const { row } = list;
  const beyond = cash.data?.beyond ?? [];
  const disputed = cash.data?.disputed ?? [];
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Cash to come</Title>
        <Sentence>
          What is owed, in the week in which it is likely to come: its due day and how late its client pays as a rule,
          or the day that was promised
        </Sentence>
        <List main label="Cash to come" list={list} read={cash} empty={<p>Nothing is owed.</p>} />
      </div>
      <Folio label="Week">
        {row && (
          <>
            <h2>Week from {long(row.from)}</h2>
            <Parts title="Of what is owed" of={row.parts} />
            <Parts title="Planned bills, net" of={row.bills} />
            {row.parts.length + row.bills.length === 0 && <p className="soft">Nothing is expected.</p>}
          </>
        )}
        <Parts title="Later than ever: nobody knows when" of={beyond} />
        <Parts title="Disputed" of={disputed} />
      </Folio>
      <Tally of={cash}>
        <TallySum figure={<Moneys of={cash.data?.owed ?? []} />} what="owed, gross" />
        {beyond.length > 0 && <TallySum lost figure={<Total of={beyond} />} what="of it later than ever" />}
        {disputed.length > 0 && <TallySum figure={<Total of={disputed} />} what="of it disputed" />}
        {cash.data && cash.data.without.length > 0 && (
          <TallySum lost figure={cash.data.without.join(", ")} what="not in the range, no exchange rate" />
        )}
      </Tally>
    </>
  );
}

const Total = ({ of }: { of: Part[] }) => (
  <Sums label="Sum" parts={of.map((part) => ({ of: `${part.client}, ${part.number}`, amount: part.amount }))} />
);

function Parts({ title, of }: { title: string; of: Part[] }) {
  if (of.length === 0) return null;
  return (
    <section aria-label={title}>
      <h2 className="sub">{title}</h2>
      <Table
        look="entries"
        rows={of}
        id={(part) => `${part.invoiceId} ${part.number} ${part.client} ${part.due} ${part.amount.minor}`}
        columns={[
          {
            name: "Client",
            names: "light",
            cell: (part) => (
              <>
                {part.client}
                <span className="under">
                  {part.invoiceId ? <Link to={`/billing/${part.invoiceId}`}>{part.number}</Link> : part.number}
                </span>
              </>
            ),
          },
          {
            name: "Likely",
            whole: true,
            cell: (part) => (
              <>
                {part.on ? short(part.on) : "–"}
                <span className="under">{part.promised ? "promised" : `due ${short(part.due)}`}</span>
              </>
            ),
          },
          { name: "Amount", number: true, cell: (part) => <Money of={part.amount} /> },
        ]}
      />
    </section>
  );
}
