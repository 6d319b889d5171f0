import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import { Folio, useFolio } from "../../frame/folio";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { ApplyFunds } from "./apply-funds";
import { FundsForm } from "./funds-form";
import { acts, type ClientFunds, useFundsHeld, useMoneyAct, useStatement } from "./use-receivables";
import { MoneyViews } from "./views";

/** Whether what is held could pay what is owed. */
const forgotten = (p: ClientFunds) => p.held.minor > p.reserved.minor && p.owed.minor > 0;

const columns: Column<ClientFunds>[] = [
  text("Client", (p) => p.client, { names: "light" }),
  text("For", (p) => p.engagement || "all their work"),
  money("Held", (p) => p.held),
  money("On drafts", (p) => p.reserved, { bare: true }),
  money("At least", (p) => p.least, { bare: true }),
  money("To refill", (p) => p.refill, { bare: true, tone: (p) => p.refill.minor > 0 && "lost" }),
  money("They owe, gross", (p) => p.owed, { bare: true, tone: (p) => forgotten(p) && "lost" }),
];

const movements: Column<Schema["Movement"]>[] = [
  text("What", (m) => m.text, {
    names: "light",
    cell: (m) => (
      <>
        {m.text}
        <span className="under">{long(m.day)}</span>
      </>
    ),
  }),
  money("Amount", (m) => m.amount, { bare: true }),
  money("Then", (m) => m.after, { bare: true, tone: () => "soft" }),
];

/** Money held for clients: the client's until a bill takes it. */
export function FundsView() {
  const { role } = useSession();
  const held = useFundsHeld(0);
  const rows = held.data ?? [];
  const [receiving, setReceiving] = useState(false);
  const [applying, setApplying] = useState<number[]>();
  const folio = useFolio();
  const list = useList({ name: "funds", rows, columns, id: (p) => p.id, text: (p) => `${p.client} ${p.engagement}` });
  const { row } = list;
  const low = (list.chosen.length > 0 ? list.chosen : rows).filter((p) => p.refill.minor > 0);
  const refill = useMoneyAct<Schema["Request"][]>();
  const idle = (list.chosen.length > 0 ? list.chosen : rows).filter(forgotten);
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Held for clients</Title>
        <Sentence>
          What is held, by client; <Link to="/receivables?show=reconcile">reconcile</Link> it with the bank
        </Sentence>
        <List
          main
          label="Money held"
          list={list}
          choice={list.chooses((fund) => fund.client)}
          read={held}
          empty={<p>Nothing is held. Ask for a deposit, or record money that came in advance.</p>}
        />
        <Refused by={refill.error} />
        {refill.data && (
          <p>
            Asked for {refill.data.map((one) => one.number).join(", ")}: send them under{" "}
            <Link to="/receivables?show=deposits">Deposits</Link>.
          </p>
        )}
      </div>
      <Folio label="Money held">
        {applying ? (
          <ApplyFunds clients={applying} onDone={() => setApplying(undefined)} />
        ) : receiving ? (
          <FundsForm onDone={() => setReceiving(false)} />
        ) : row ? (
          <FundsFolio
            key={row.id}
            fund={row}
            mayAct={role === "administrator"}
            onApply={() => setApplying([row.clientId])}
          />
        ) : (
          <h2>Nothing is held</h2>
        )}
      </Folio>
      <Tally
        of={held}
        actions={
          role === "administrator" && (
            <>
              {low.length > 0 && (
                <Button
                  loading={refill.isPending}
                  onClick={() => refill.mutate(acts.refill(low.map((p) => p.id)), { onSuccess: () => list.forget() })}
                >
                  Ask {low.length === 1 ? "one client" : low.length} to refill
                </Button>
              )}
              {idle.length > 0 && (
                <Button
                  onClick={() => {
                    setApplying([...new Set(idle.map((p) => p.clientId))]);
                    folio.turn(true);
                  }}
                >
                  Apply it for {idle.length === 1 ? "one client" : `${idle.length} clients`}
                </Button>
              )}
              <Button
                type="primary"
                onClick={() => {
                  setReceiving(true);
                  folio.turn(true);
                }}
              >
                Record money to hold
              </Button>
            </>
          )
        }
      >
        <TallySum figure={rows.filter((p) => p.held.minor > 0).length} what="clients with money held" />
        {idle.length > 0 && <TallySum lost figure={idle.length} what="could pay what is owed" />}
      </Tally>
    </>
  );
}

function FundsFolio({ fund, mayAct, onApply }: { fund: ClientFunds; mayAct: boolean; onApply: () => void }) {
  const statement = useStatement(fund.id);
  const act = useMoneyAct<unknown>();
  const { today } = useSession();
  const [refunding, setRefunding] = useState(false);
  const form = useTyping({ amount: "" });
  return (
    <>
      <p className={deskCss.folioOver}>{fund.client}</p>
      <h2>
        <Money of={fund.held} zero="Nothing" /> held
      </h2>
      <p className="soft">{fund.engagement ? `For ${fund.engagement} alone` : "For all their work"}</p>
      <Table
        headless
        look="plain"
        caption="Statement"
        rows={statement.data?.movements ?? []}
        columns={movements}
        id={(_, index) => index}
      />
      {!refunding && <Refused by={act.error} />}
      {mayAct && !refunding && (
        <p className={formCss.ending}>
          {fund.owed.minor > 0 && fund.held.minor > fund.reserved.minor && (
            <Do onClick={onApply}>Apply it to what they owe</Do>
          )}
          {fund.held.minor > fund.reserved.minor && <Do onClick={() => setRefunding(true)}>Refund some of it</Do>}
        </p>
      )}
      {refunding && (
        <Form
          label="Refund"
          act={act}
          ok={`Refund ${form.typed.amount}`}
          ready={form.typed.amount !== ""}
          onOk={() =>
            act.mutate(acts.refund(fund.id, form.typed.amount, today), { onSuccess: () => setRefunding(false) })
          }
          onNo={() => setRefunding(false)}
        >
          <TextField of={form} name="amount" label="Refund to the client" as="amount" focus />
        </Form>
      )}
    </>
  );
}
