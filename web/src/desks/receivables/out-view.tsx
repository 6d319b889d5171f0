import { Button } from "antd";
import { useState } from "react";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money, Sums, summed, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidDate, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { acts, useMoneyAct } from "./use-receivables";
import { MoneyViews } from "./views";

type Row = Schema["ToPay"];
type Order = Schema["BankOrder"];

const kinds: Record<Row["kind"], string> = {
  transfer: "transfer to the firm",
  refund: "refund",
  expenses: "expenses laid out",
};

const columns: Column<Row>[] = [
  text("What", (row) => kinds[row.kind], {
    cell: (row) => (
      <>
        {kinds[row.kind]}
        <span className="under">{row.what}</span>
      </>
    ),
  }),
  text("To", (row) => row.to, {
    names: "light",
    cell: (row) => (
      <>
        {row.to}
        <span className={row.problem ? "under lost" : "under"}>{row.problem || row.iban}</span>
      </>
    ),
  }),
  text("From", (row) => row.from),
  text("Since", (row) => row.day, { cell: (row) => long(row.day) }),
  money("Amount", (row) => row.amount),
];

/** What is to be paid out: transfers, refunds, what people laid out; ordered from the bank in a file for each account. */
export function OutView() {
  const { role, today } = useSession();
  const said = useMoneyText();
  const read = useRead("/api/outgoing");
  const act = useMoneyAct<Order[]>();
  const [day, setDay] = useState("");
  const rows = read.data ?? [];
  const list = useList({
    name: "outgoing",
    rows,
    columns,
    id: (row) => row.key,
    text: (row) => `${row.to} ${row.what} ${kinds[row.kind]} ${row.from}`,
  });
  const administers = role === "administrator";
  const chosen = list.chosen.filter((row) => !row.problem);
  const sums = summed(chosen.map((row) => row.amount));
  const order = () =>
    act.mutate(acts.order({ keys: chosen.map((row) => row.key), ...(day ? { day } : {}) }), {
      onSuccess: () => list.forget(),
    });
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>To pay out</Title>
        <Sentence>
          What is to be paid out and is in no order yet; what is chosen leaves on{" "}
          <SaidDate label="On" value={day || today} onChange={setDay} />
        </Sentence>
        <List
          main
          label="To pay out"
          list={list}
          read={read}
          choice={administers ? list.chooses((row) => `${row.to}, ${said(row.amount)}`) : undefined}
          empty={<p>Nothing is to be paid out: no transfer, no refund, nothing that people laid out.</p>}
        />
        <Refused by={act.error} />
        {act.data && (
          <p>
            Made:{" "}
            {act.data.map((one) => (
              <span key={one.id}>
                <a href={`/api/bank/orders/${one.id}/file`}>{one.name}.xml</a> over {said(one.total)}{" "}
              </span>
            ))}
            Give them to the bank; its statement says when they are paid.
          </p>
        )}
      </div>
      <Folio label="Orders">
        {list.row?.kind === "expenses" && <LaidOut key={list.row.key} row={list.row} mayAct={administers} />}
        <Orders mayAct={administers} />
        <PaidBack mayAct={administers} />
      </Folio>
      <Tally
        of={read}
        actions={
          administers && (
            <Button type="primary" disabled={chosen.length === 0} loading={act.isPending} onClick={order}>
              {chosen.length === 0
                ? "Make the file"
                : `Make the file: ${chosen.length}, ${sums.map((sum) => said(sum)).join(" and ")}`}
            </Button>
          )
        }
      >
        <TallySum figure={rows.length} what="to pay out" />
        <TallySum
          figure={<Sums label="To pay out" parts={rows.map((row) => ({ of: row.to, amount: row.amount }))} />}
          what="in all"
        />
      </Tally>
    </>
  );
}

const purchases: Column<Schema["OwedExpense"]>[] = [
  text("What", (one) => one.text, {
    names: "light",
    cell: (one) => (
      <>
        {one.text}
        <span className="under">{long(one.day)}</span>
      </>
    ),
  }),
  money("Amount", (one) => one.amount),
];

/** What a person laid out, and that they got it some other way than by the bank. */
function LaidOut({ row, mayAct }: { row: Row; mayAct: boolean }) {
  const { today } = useSession();
  const { currency } = row.amount;
  const read = useRead("/api/paid-back/owed/{id}", { path: { id: row.id }, query: { currency } });
  const act = useMoneyAct<unknown>();
  const [open, setOpen] = useState(false);
  const form = useTyping({ day: today, note: "" });
  return (
    <>
      <h2>
        {row.to}: <Money of={row.amount} />
      </h2>
      <Table headless caption="Laid out" rows={read.data ?? []} columns={purchases} id={(one) => one.purchaseId} />
      {mayAct && !open && <Do onClick={() => setOpen(true)}>They got it another way</Do>}
      {open && (
        <Form
          inPlace
          label="Paid back"
          title="Paid back another way"
          act={act}
          ok="It is paid back"
          onOk={() => act.mutate(acts.payBack({ personId: row.id, currency, ...form.typed }))}
          onNo={() => setOpen(false)}
        >
          <DayField of={form} name="day" label="On" />
          <TextField of={form} name="note" label="How" hint="with the wages, in cash" wide focus />
        </Form>
      )}
    </>
  );
}

const orderColumns = (onWithdraw?: (one: Order) => void): Column<Order>[] => [
  text("Order", (one) => one.name, {
    names: "light",
    cell: (one) => (
      <>
        {onWithdraw ? <a href={`/api/bank/orders/${one.id}/file`}>{one.name}</a> : one.name}
        <span className="under">
          {one.account}, {long(one.day)}:{" "}
          {one.withdrawn ? "withdrawn" : one.met === one.payments ? "paid" : `${one.met} of ${one.payments} paid`}{" "}
          {onWithdraw && !one.withdrawn && one.met === 0 && <Do onClick={() => onWithdraw(one)}>withdraw</Do>}
        </span>
      </>
    ),
  }),
  money("Total", (one) => one.total),
];

function Orders({ mayAct }: { mayAct: boolean }) {
  const read = useRead("/api/bank/orders");
  const act = useMoneyAct<unknown>();
  const withdraw = (one: Order) => act.mutate(acts.withdrawOrder(one.id, one.version));
  return (
    <>
      {(read.data ?? []).length > 0 ? (
        <Table
          headless
          caption="Orders to the bank"
          rows={read.data ?? []}
          columns={orderColumns(mayAct ? withdraw : undefined)}
          id={(one) => one.id}
        />
      ) : (
        <p className="soft">
          None yet. A file that your bank takes (ISO 20022) is made of what is chosen: one for each account.
        </p>
      )}
      <Refused by={act.error} />
    </>
  );
}

const paidColumns = (onBack?: (one: Schema["PaidBack"]) => void): Column<Schema["PaidBack"]>[] => [
  text("Who", (one) => one.person, {
    names: "light",
    cell: (one) => (
      <>
        {one.person}
        <span className="under">
          {long(one.day)}, {one.takenBack ? "taken back" : one.note}{" "}
          {onBack && !one.takenBack && one.note !== "by bank" && <Do onClick={() => onBack(one)}>they did not</Do>}
        </span>
      </>
    ),
  }),
  money("Amount", (one) => one.amount),
];

function PaidBack({ mayAct }: { mayAct: boolean }) {
  const read = useRead("/api/paid-back");
  const act = useMoneyAct<unknown>();
  const rows = read.data ?? [];
  if (rows.length === 0) return null;
  const back = (one: Schema["PaidBack"]) => act.mutate(acts.takeBackPaid(one.id, one.version));
  return (
    <>
      <Table
        headless
        caption="Paid back to people"
        rows={rows.slice(0, 20)}
        columns={paidColumns(mayAct ? back : undefined)}
        id={(one) => one.id}
      />
      <Refused by={act.error} />
    </>
  );
}
