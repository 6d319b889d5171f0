import { Button } from "antd";
import { clsx } from "clsx";
import { lazy, Suspense, useState } from "react";
import { useNavigate } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import { Folio, useFolio } from "../../frame/folio";
import { DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { about } from "../letters/use-letters";
import { ClientField } from "./client-field";
import { FundsForm } from "./funds-form";
import { acts, type DepositRequest, useDeposits, useMoneyAct, usePlannedDeposits } from "./use-receivables";
import { MoneyViews } from "./views";

const LetterForm = lazy(async () => ({ default: (await import("../letters/letter-form")).LetterForm }));

const stateWords = { open: "asked for", received: "received", withdrawn: "withdrawn" } as const;

const columns: Column<DepositRequest>[] = [
  text("Number", (one) => one.number),
  text("Client", (one) => one.client, {
    names: "light",
    cell: (one) => (
      <>
        {one.client}
        <span className="under">{one.engagement || one.text}</span>
      </>
    ),
  }),
  days("Due", (one) => one.due, {
    cell: (one) => (
      <>
        {long(one.due)}
        {one.daysLate > 0 && <span className="under lost">{one.daysLate} days late</span>}
      </>
    ),
  }),
  text("State", (one) => stateWords[one.state]),
  money("Received", (one) => one.received, { bare: true }),
  money("Asked for", (one) => one.amount),
];

/** Deposits: what was agreed, what was asked for, and what came in. */
export function DepositsView() {
  const { role } = useSession();
  const administers = role === "administrator";
  const deposits = useDeposits();
  const planned = usePlannedDeposits(administers).data ?? [];
  const rows = deposits.data ?? [];
  const [asking, setAsking] = useState(false);
  const folio = useFolio();
  const list = useList({
    name: "deposits",
    rows,
    columns,
    id: (one) => one.id,
    text: (one) => `${one.number} ${one.client} ${one.engagement} ${one.text} ${stateWords[one.state]}`,
  });
  const { row } = list;
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Deposits</Title>
        {planned.length > 0 && <Planned rows={planned} />}
        <List main label="Deposit requests" list={list} read={deposits} empty={<p>No deposit was asked for yet.</p>} />
      </div>
      <Folio label="Deposit">
        {asking ? (
          <RequestForm onDone={() => setAsking(false)} />
        ) : row ? (
          <RequestFolio key={`${row.id} ${row.version}`} request={row} mayAct={administers} />
        ) : (
          <h2>Nothing chosen</h2>
        )}
      </Folio>
      <Tally
        of={deposits}
        actions={
          administers && (
            <Button
              type="primary"
              onClick={() => {
                setAsking(true);
                folio.turn(true);
              }}
            >
              Ask for a deposit
            </Button>
          )
        }
      >
        <TallySum figure={rows.filter((one) => one.state === "open").length} what="asked for" />
        <TallySum figure={planned.length} what="agreed, not asked for" />
      </Tally>
    </>
  );
}

const planned: Column<Schema["PlannedDeposit"]>[] = [
  text("Client", (one) => one.client, {
    names: "light",
    cell: (one) => (
      <>
        {one.client}
        <span className="under">{one.text}</span>
      </>
    ),
  }),
  money("Amount", (one) => one.amount),
];

/** What proposals agreed: to be requested and held, or invoiced as an advance. */
function Planned({ rows }: { rows: Schema["PlannedDeposit"][] }) {
  const request = useMoneyAct<DepositRequest>();
  const advance = useMoneyAct<Schema["Invoice"]>();
  const navigate = useNavigate();
  const ask = (chargeId: number) =>
    request.mutate(
      acts.request({ clientId: 0, engagementId: 0, entityId: 0, chargeId, currency: "", amount: "", text: "" }),
    );
  return (
    <section className={formCss.inPlace} aria-label="Agreed deposits">
      <h2>Agreed, and not asked for yet</h2>
      <Table
        headless
        rows={rows}
        id={(one) => one.chargeId}
        columns={[
          ...planned,
          {
            name: "acts",
            tone: () => clsx(tableCss.lineAct, tableCss.wide),
            cell: ({ chargeId }) => (
              <>
                <Button size="small" type="text" onClick={() => ask(chargeId)}>
                  Request it
                </Button>
                <Button
                  size="small"
                  type="text"
                  onClick={() =>
                    advance.mutate(acts.advance(chargeId), { onSuccess: (made) => navigate(`/billing/${made.id}`) })
                  }
                >
                  Invoice it ahead
                </Button>
              </>
            ),
          },
        ]}
      />
      <Refused by={request.error ?? advance.error} />
    </section>
  );
}

function RequestFolio({ request, mayAct }: { request: DepositRequest; mayAct: boolean }) {
  const act = useMoneyAct<DepositRequest>();
  const [receiving, setReceiving] = useState(false);
  const [sending, setSending] = useState(false);
  if (receiving) return <FundsForm request={request} onDone={() => setReceiving(false)} />;
  return (
    <>
      <p className={deskCss.folioOver}>{request.client}</p>
      <h2>
        {request.number}: <Money of={request.amount} />
      </h2>
      <p>{request.text}</p>
      <p className="soft">
        Asked for on {long(request.dated)}, due {long(request.due)}. It is not taxed, and not owed: what comes in is
        held until a bill takes it.
      </p>
      <p>
        <a href={`/api/deposits/${request.id}/document.pdf`}>Save the PDF</a>
      </p>
      <Refused by={act.error} />
      {mayAct && request.state === "open" && (
        <p className={formCss.ending}>
          <Do onClick={() => setSending(true)}>Send it</Do>
          <Do onClick={() => setReceiving(true)}>The money came</Do>
          <Do onClick={() => act.mutate(acts.withdraw(request.id, request.version))}>Withdraw it</Do>
        </p>
      )}
      {sending && (
        <Suspense>
          <LetterForm
            of={about("deposit", request.id)}
            title={`Send ${request.number}`}
            onDone={() => setSending(false)}
          />
        </Suspense>
      )}
    </>
  );
}

function RequestForm({ onDone }: { onDone: () => void }) {
  const form = useTyping({ clientId: 0, amount: "", text: "", due: "" });
  const act = useMoneyAct<DepositRequest>();
  const { due, ...typed } = form.typed;
  const body = { ...typed, engagementId: 0, entityId: 0, chargeId: 0, currency: "", ...(due && { due }) };
  return (
    <Form
      label="Deposit request"
      title="Ask for a deposit"
      act={act}
      ok={`Ask for ${typed.amount}`}
      ready={Boolean(typed.clientId && typed.amount)}
      onOk={() => act.mutate(acts.request(body), { onSuccess: onDone })}
      onNo={onDone}
    >
      <ClientField of={form} />
      <TextField of={form} name="amount" label="Amount" as="amount" />
      <TextField of={form} name="text" label="For what" placeholder="Deposit on work to come" />
      <DayField of={form} name="due" label="Due" any="at once" />
    </Form>
  );
}
