import { Button, Input } from "antd";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { acts, type Payment, useMoneyAct, usePayments } from "./use-receivables";
import { MoneyViews } from "./views";

const purposes = {
  invoices: "on invoices",
  funds: "to be held",
  refund_funds: "refund of money held",
  refund_credit: "refund of credit",
} as const;

const columns: Column<Payment>[] = [
  days("Received", (p) => p.day),
  text("Client", (p) => p.client, { names: "light" }),
  text("By", (p) => p.method),
  text("Reference", (p) => p.reference),
  text("For", (p) => p.on || purposes[p.purpose], {
    cell: (p) => (
      <>
        {p.on || purposes[p.purpose]}
        {p.reversed && <span className="lost">, reversed</span>}
        {p.reverses !== 0 && <span className="lost">, a reversal</span>}
      </>
    ),
  }),
  money("Amount", (p) => p.amount),
];

/** Every payment, newest first: what it paid, and the way to take it back. */
export function PaymentsView() {
  const [search, setSearch] = useSearchParams();
  const client = Number(search.get("client") ?? 0);
  const payments = usePayments(client);
  const everyone = usePayments(0);
  const rows = payments.data ?? [];
  const list = useList({
    name: "payments",
    rows,
    columns,
    id: (p) => p.id,
    text: (p) => `${p.client} ${p.method} ${p.reference} ${p.on}`,
    open: Number(search.get("payment") ?? 0) || undefined,
    onMove: (p) => setSearch((now) => ({ ...Object.fromEntries(now), payment: String(p.id) }), { replace: true }),
  });
  const { row } = list;
  const say = (id: number) => {
    setSearch({ show: "payments", ...(id ? { client: String(id) } : {}) });
  };
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Payments</Title>
        <Sentence>
          Everything that came in from{" "}
          <SaidChoice
            label="Client"
            value={client}
            choices={[
              { value: 0, label: "all clients" },
              ...[...new Map((everyone.data ?? []).map((p) => [p.clientId, p.client]))].map(([value, label]) => ({
                value,
                label,
              })),
            ]}
            onChange={say}
          />
          , newest first
        </Sentence>
        <List
          main
          label="Payments"
          list={list}
          read={payments}
          tone={(p) => p.reversed && tableCss.retired}
          empty={<p>No payment yet. Record one under Owed.</p>}
        />
      </div>
      <Folio label="Payment">{row ? <PaymentFolio key={row.id} payment={row} /> : <h2>Nothing chosen</h2>}</Folio>
      <Tally>
        <TallySum figure={rows.length} what={rows.length === 1 ? "payment" : "payments"} />
      </Tally>
    </>
  );
}

function PaymentFolio({ payment }: { payment: Payment }) {
  const { role } = useSession();
  const act = useMoneyAct<Payment>();
  const [reversing, setReversing] = useState(false);
  const [reason, setReason] = useState("");
  const mayReverse = role === "administrator" && !payment.reversed && payment.reverses === 0;
  const reverse = () => act.mutate(acts.reverse(payment.id, reason), { onSuccess: () => setReversing(false) });
  return (
    <>
      <p className={deskCss.folioOver}>{payment.client}</p>
      <h2>
        <Money of={payment.amount} />
      </h2>
      <table className={tableCss.plain}>
        <tbody>
          <tr>
            <th scope="row">Received</th>
            <td className="number">{long(payment.day)}</td>
          </tr>
          <tr>
            <th scope="row">On</th>
            <td className="number">{payment.on || purposes[payment.purpose]}</td>
          </tr>
          {payment.unapplied.minor !== 0 && (
            <tr>
              <th scope="row">Credit of the client</th>
              <td className="number">
                <Money of={payment.unapplied} />
              </td>
            </tr>
          )}
          <tr>
            <th scope="row">Recorded by</th>
            <td className="number">{payment.person}</td>
          </tr>
          {payment.note && (
            <tr>
              <th scope="row">Note</th>
              <td>{payment.note}</td>
            </tr>
          )}
        </tbody>
      </table>
      <Refused by={act.error} />
      {mayReverse &&
        (reversing ? (
          <div className={formCss.newRecord}>
            <label>
              Why is it reversed?
              <Input
                autoFocus
                value={reason}
                onChange={(event) => setReason(event.target.value)}
                onPressEnter={reverse}
              />
            </label>
            <p className={formCss.newActs}>
              <Button danger disabled={!reason.trim()} loading={act.isPending} onClick={reverse}>
                Reverse <Money of={payment.amount} />
              </Button>
              <Button onClick={() => setReversing(false)}>Leave it</Button>
            </p>
          </div>
        ) : (
          <p className={formCss.ending}>
            <Do onClick={() => setReversing(true)}>Reverse it</Do>
          </p>
        ))}
    </>
  );
}
