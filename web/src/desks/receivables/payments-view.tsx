import { useState } from "react";
import { useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Fact, Facts } from "../../frame/facts";
import { Money, typedNumber } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { SaidChoice, Sentence } from "../../frame/sentence";
import tableCss from "../../frame/table.module.css";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { useSettled } from "../../frame/use-settled";
import { acts, type Payment, useMoneyAct, usePayments } from "./use-receivables";
import { MoneyViews } from "./views";

const purposes = {
  invoices: "on invoices",
  funds: "to be held",
  refund_funds: "refund of money held",
  refund_credit: "refund of credit",
} as const;

export const paymentColumns: Column<Payment>[] = [
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
  const { decimals } = useSession();
  const [sought, setSought] = useState("");
  const payments = usePayments(client, useSettled(sought, 150));
  const everyone = usePayments(0);
  const rows = payments.data ?? [];
  const list = useList({
    name: "payments",
    rows,
    columns: paymentColumns,
    id: (p) => p.id,
    text: (p) =>
      `${p.client} ${p.method} ${p.reference} ${p.note} ${p.on} ${typedNumber(p.amount.minor, decimals[p.amount.currency] ?? 2, ".")}`,
    sought: { text: sought, set: setSought },
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
            choices={orAll(
              0,
              "all clients",
              (everyone.data ?? []).map((p) => [p.clientId, p.client]),
            )}
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
      <Tally of={payments}>
        <TallySum figure={rows.length} what={rows.length === 1 ? "payment" : "payments"} />
      </Tally>
    </>
  );
}

function PaymentFolio({ payment }: { payment: Payment }) {
  const { role } = useSession();
  const act = useMoneyAct<Payment>();
  const [reversing, setReversing] = useState(false);
  const form = useTyping({ reason: "" });
  const mayReverse = role === "administrator" && !payment.reversed && payment.reverses === 0;
  return (
    <>
      <p className={deskCss.folioOver}>{payment.client}</p>
      <h2>
        <Money of={payment.amount} />
      </h2>
      <Facts>
        <Fact of="Received">{long(payment.day)}</Fact>
        <Fact of="On">{payment.on || purposes[payment.purpose]}</Fact>
        <Fact of="Credit of the client">{payment.unapplied.minor !== 0 && <Money of={payment.unapplied} />}</Fact>
        <Fact of="Recorded by">{payment.person}</Fact>
        <Fact of="Note">{payment.note}</Fact>
      </Facts>
      {mayReverse &&
        (reversing ? (
          <Form
            danger
            label="Reversal"
            act={act}
            ok={
              <>
                Reverse <Money of={payment.amount} />
              </>
            }
            no="Leave it"
            ready={form.typed.reason.trim() !== ""}
            onOk={() =>
              act.mutate(acts.reverse(payment.id, form.typed.reason), { onSuccess: () => setReversing(false) })
            }
            onNo={() => setReversing(false)}
          >
            <TextField of={form} name="reason" label="Why is it reversed?" focus />
          </Form>
        ) : (
          <p className={formCss.ending}>
            <Do onClick={() => setReversing(true)}>Reverse it</Do>
          </p>
        ))}
    </>
  );
}
