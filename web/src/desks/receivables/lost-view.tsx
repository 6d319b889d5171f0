import { Button } from "antd";
import { Link, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Moneys, Sums, summed } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidDate, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { MoneyViews } from "./views";

type Row = Schema["Lost"];
export type Reason = Row["reason"];

export const reasons: { value: Reason; label: string }[] = [
  { value: "unwilling", label: "the client will not pay" },
  { value: "insolvent", label: "the client is insolvent" },
  { value: "untraceable", label: "the client can’t be found" },
  { value: "too_small", label: "too small to pursue" },
  { value: "goodwill", label: "goodwill" },
  { value: "other", label: "another reason" },
];

const whats: Record<Row["what"], string> = {
  written_off: "written off",
  recovered: "came after all",
  owed_again: "owed again",
};

const columns: Column<Row>[] = [
  days("Day", (row) => row.day),
  text("Client", (row) => row.client, { names: "light" }),
  text("Invoice", (row) => row.number, { cell: (row) => <Link to={`/billing/${row.invoiceId}`}>{row.number}</Link> }),
  text("What", (row) => whats[row.what]),
  text("Because", (row) => row.said),
  money("Net", (row) => row.net),
  money("Tax", (row) => row.tax),
  money("Gross", (row) => row.gross),
];

const byReason: Column<{ label: string; rows: Row[] }>[] = [
  text("Because", (one) => one.label, { names: "light" }),
  text("Net", () => "", { cell: (one) => <Moneys of={summed(one.rows.map((row) => row.net))} /> }),
];

/** Bad debt: what was given up in a period and why, and what came of it after all. */
export function LostView() {
  const { today } = useSession();
  const [search, setSearch] = useSearchParams();
  const from = search.get("from") ?? `${today.slice(0, 4)}-01-01`;
  const to = search.get("to") ?? today;
  const say = (change: Record<string, string>) => setSearch({ show: "lost", from, to, ...change });
  const read = useRead("/api/bad-debt", { query: { from, to } }, { keeps: true });
  const rows = read.data ?? [];
  const list = useList({
    name: "lost",
    rows,
    columns,
    id: (row) => `${row.invoiceId} ${row.day} ${row.what} ${row.gross.minor}`,
    text: (row) => `${row.client} ${row.number} ${row.said}`,
  });
  const grouped = reasons
    .map(({ value, label }) => ({ label, rows: rows.filter((row) => row.reason === value) }))
    .filter((one) => one.rows.length > 0);
  const period = new URLSearchParams({ from, to });
  const parts = (of: (row: Row) => Row["net"]) => rows.map((row) => ({ of: row.client, amount: of(row) }));
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Bad debt</Title>
        <Sentence>
          Given up from <SaidDate label="From" value={from} onChange={(day) => say({ from: day })} /> to{" "}
          <SaidDate label="To" value={to} onChange={(day) => say({ to: day })} />, and what came of it after all
        </Sentence>
        <List
          main
          label="Bad debt"
          list={list}
          read={read}
          empty={
            <p>
              Nothing was given up in this time. An invoice that nobody will pay is written off where it stands open.
            </p>
          }
        />
      </div>
      <Folio label="Reasons">
        {grouped.length > 0 && (
          <Table caption="Why it was given up" rows={grouped} columns={byReason} id={(one) => one.label} />
        )}
        <p>
          What was given up stays here as lost. What comes of it later is a line of its own; reports of the days in
          between say what they said.
        </p>
        <p>
          Its tax is told apart: whether and when the tax office gives it back, your adviser knows. The{" "}
          <Link to="/set-up/ledger-accounts">journal</Link> posts both.
        </p>
      </Folio>
      <Tally
        of={read}
        actions={
          <>
            <Button href={`/api/bad-debt/export?form=csv&${period}`}>CSV</Button>
            <Button href={`/api/bad-debt/export?form=xlsx&${period}`}>XLSX</Button>
          </>
        }
      >
        <TallySum figure={rows.filter((row) => row.what === "written_off").length} what="written off" />
        <TallySum figure={<Sums label="Net" parts={parts((row) => row.net)} />} what="net lost" />
        <TallySum figure={<Sums label="Tax" parts={parts((row) => row.tax)} />} what="tax in it" />
      </Tally>
    </>
  );
}
