import { Button } from "antd";
import { lazy, Suspense, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import { useAddress } from "../../frame/address";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money, Moneys, Sums } from "../../frame/figure";
import { Folio, useFolio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { JobProgress } from "../../frame/job";
import { count, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { SaidChoice, SaidDate, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { AgeBands, bandWords } from "./ages";
import { ApplyFunds, HeldOffer } from "./apply-funds";
import { OpeningForm } from "./opening-form";
import { PaymentForm } from "./payment-form";
import receivablesCss from "./receivables.module.css";
import { acts, type ClientOwes, useMoneyAct, useOwed } from "./use-receivables";
import { useSendStatements } from "./use-reminding";
import { MoneyViews } from "./views";

const LetterForm = lazy(async () => ({ default: (await import("../letters/letter-form")).LetterForm }));

const ages = [
  { value: 0, label: "however old" },
  { value: 1, label: "that is late" },
  { value: 31, label: "over 30 days late" },
  { value: 61, label: "over 60 days late" },
  { value: 91, label: "over 90 days late" },
];

/** What is owed, by client and age, down to the instalment. */
export function OwedView() {
  const { search, change } = useAddress();
  const { role, today } = useSession();
  const asked = {
    client: Number(search.get("client") ?? 0),
    lead: Number(search.get("lead") ?? 0),
    late: Number(search.get("late") ?? 0),
    on: search.get("on") ?? "",
  };
  const then = asked.on !== "" && asked.on !== today;
  const paying = Number(search.get("pay") ?? 0);
  const owed = useOwed(asked);
  const everyone = useOwed({ client: 0, lead: 0, late: 0, on: asked.on });
  const [entering, setEntering] = useState(false);
  const folio = useFolio();
  const rows = owed.data?.clients ?? [];
  const list = useList({
    name: "owed",
    rows,
    columns,
    id: (row) => `${row.clientId} ${row.total.currency}`,
    text: (row) => `${row.client} ${row.open.map((part) => part.number).join(" ")}`,
  });
  const { row } = list;
  const administers = role === "administrator" && !then;
  const { job, send } = useSendStatements();
  const asTable = new URLSearchParams({
    ...Object.fromEntries(Object.entries(asked).map(([name, value]) => [name, String(value)])),
    form: "xlsx",
  });
  const enter = () => {
    setEntering(true);
    folio.turn(true);
  };
  const pay = (change: { client: number; pay: number }) => {
    say(change);
    folio.turn(true);
  };
  const say = (to: Partial<typeof asked> & { pay?: number }) =>
    change(
      {
        pay: undefined,
        ...Object.fromEntries(Object.entries(to).map(([name, value]) => [name, value ? String(value) : undefined])),
      },
      {},
    );
  const client = asked.client || row?.clientId || 0;
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>What is owed</Title>
        <Sentence>
          Owed on{" "}
          <SaidDate label="On" value={asked.on || today} onChange={(on) => say({ on: on === today ? "" : on })} /> by{" "}
          <SaidChoice
            label="Client"
            value={asked.client}
            choices={orAll(
              0,
              "all clients",
              (everyone.data?.clients ?? []).map((c) => [c.clientId, c.client]),
            )}
            onChange={(id) => say({ client: id })}
          />
          , on work led by{" "}
          <SaidChoice
            label="Lead"
            value={asked.lead}
            choices={orAll(
              0,
              "anybody",
              (everyone.data?.leads ?? []).map((lead) => [lead.id, lead.name]),
            )}
            onChange={(id) => say({ lead: id })}
          />
          , <SaidChoice label="Age" value={asked.late} choices={ages} onChange={(late) => say({ late })} />
        </Sentence>
        {then && <p className="soft">As it stood at the end of that day. What is disputed is told of today alone.</p>}
        <List
          main
          className="owed"
          label="What is owed"
          choice={administers ? list.chooses((row) => `${row.client} ${row.total.currency}`) : undefined}
          list={list}
          read={owed}
          empty={<p>Nothing is owed that fits. Choose other clients, leads or ages.</p>}
        />
      </div>
      <Folio label="Client">
        {paying ? (
          <PaymentForm client={client} invoice={paying > 1 ? paying : 0} onDone={() => say({ pay: 0 })} />
        ) : entering ? (
          <OpeningForm client={client} onDone={() => setEntering(false)} />
        ) : !owed.data ? null : (
          <ClientFolio
            row={row}
            mayAct={administers}
            onPay={(invoice) => say({ client: row?.clientId ?? 0, pay: invoice })}
          />
        )}
      </Folio>
      <Tally
        of={owed}
        notice={
          <>
            <Refused by={send.error} />
            {job.job && <JobProgress job={job.job} what="Sending" onForget={job.forget} />}
          </>
        }
        actions={
          <>
            <Button href={`/api/receivables/export?${asTable}`}>As XLSX</Button>
            {administers && (
              <>
                {list.chosen.length > 0 ? (
                  <Button
                    loading={send.isPending}
                    disabled={job.job?.state === "running"}
                    onClick={() => send.mutate(list.chosen, { onSuccess: () => list.forget() })}
                  >
                    {list.chosen.length === 1 ? "Send a statement" : `Send ${list.chosen.length} statements`}
                  </Button>
                ) : (
                  <Button onClick={enter}>Take over an old invoice</Button>
                )}
                <Button type="primary" onClick={() => pay({ client: asked.client, pay: 1 })}>
                  Record a payment
                </Button>
              </>
            )}
          </>
        }
      >
        <TallySum figure={owed.data ? <Money of={owed.data.total} /> : "–"} what="owed, gross" />
        {owed.data && owed.data.late.minor !== 0 && (
          <TallySum lost figure={<Money of={owed.data.late} />} what="of it late" />
        )}
        {owed.data && owed.data.disputed.minor !== 0 && (
          <TallySum figure={<Money of={owed.data.disputed} />} what="of it disputed" />
        )}
        {owed.data && owed.data.exchange.minor !== 0 && (
          <TallySum
            figure={<Money of={owed.data.exchange} />}
            what={`of it exchange, at ${then ? "that day’s" : "today's"} rates against those of issue`}
          />
        )}
        {owed.data && owed.data.without.length > 0 && (
          <TallySum lost figure={owed.data.without.join(", ")} what="left out, no exchange rate" />
        )}
        {owed.data && owed.data.credit.length > 0 && (
          <TallySum figure={<Moneys of={owed.data.credit} />} what="credit of clients" />
        )}
        {owed.data?.held.some((held) => held.minor !== 0) && (
          <TallySum figure={<Moneys of={owed.data.held} />} what="held for them" />
        )}
      </Tally>
    </>
  );
}

const columns: Column<ClientOwes>[] = [
  text("Client", (row) => row.client, { names: "light" }),
  count("Days late", (row) => Math.max(0, row.mostLate), { tone: (row) => row.mostLate > 0 && "lost" }),
  ...bandWords.map((band, at) =>
    money<ClientOwes>(band, (row) => row.ages[at], {
      cell: (row) => <Owed bare label={`Owed, ${band}`} parts={undisputed(row.open.filter((p) => p.band === at))} />,
      tone: (row) => at > 3 && row.ages[at]?.minor !== 0 && "lost",
    }),
  ),
  money("disputed", (row) => row.disputed, {
    cell: (row) => <Owed bare label="Disputed" parts={row.open.map((part) => ({ ...part, open: part.disputed }))} />,
  }),
  money("Owed, gross", (row) => row.total, {
    cell: (row) => <Owed label="Owed, gross" parts={row.open} />,
  }),
];

/** What has an age: all that is open but for what is disputed. */
const undisputed = (parts: ClientOwes["open"]) =>
  parts.map((part) => ({ ...part, open: { ...part.open, minor: part.open.minor - part.disputed.minor } }));

/** What is open, added up from the instalments. */
function Owed({ parts, ...said }: { label: string; parts: ClientOwes["open"]; bare?: boolean }) {
  const of = parts
    .filter((part) => part.open.minor !== 0)
    .map((part) => ({ of: `${part.number} ${part.part}`.trim(), amount: part.open }));
  return <Sums parts={of} {...said} />;
}

interface FolioProps {
  row?: ClientOwes;
  mayAct: boolean;
  onPay: (invoice: number) => void;
}

/** One client: every open instalment, and what lies there to settle it. */
const parts: Column<ClientOwes["open"][number]>[] = [
  {
    name: "Invoice",
    names: "light",
    cell: (part) => (
      <>
        <Link to={`/billing/${part.invoiceId}`}>{part.number}</Link>
        {(part.part || part.beside) && (
          <span className="under">{[part.part, part.beside].filter(Boolean).join(", ")}</span>
        )}
      </>
    ),
  },
  {
    name: "Due",
    whole: true,
    cell: (part) => (
      <>
        {long(part.due)}
        {part.daysLate > 0 && <span className="under lost">{part.daysLate} days late</span>}
      </>
    ),
  },
];

function ClientFolio({ row, mayAct, onPay }: FolioProps) {
  const act = useMoneyAct();
  const [applying, setApplying] = useState(false);
  const [reminding, setReminding] = useState(false);
  const navigate = useNavigate();
  if (!row)
    return (
      <>
        <h2>Nobody owes anything here</h2>
        <p className="soft">Issue an invoice, or look at other ages and clients.</p>
      </>
    );
  const first = row.open[0];
  if (applying) return <ApplyFunds clients={[row.clientId]} onDone={() => setApplying(false)} />;
  return (
    <>
      <p className={deskCss.folioOver}>
        <Link to={`/clients/${row.clientId}`}>{row.client}</Link>
      </p>
      <h2>
        <Money of={row.total} /> owed
      </h2>
      <AgeBands of={row.ages} />
      {row.disputed.minor !== 0 && (
        <p>
          <Money of={row.disputed} /> of it is disputed.
        </p>
      )}
      {(row.credit.minor !== 0 || row.held.minor !== 0) && (
        <p className={deskCss.findingBox}>
          {row.held.minor !== 0 && (
            <>
              {mayAct ? (
                <HeldOffer held={row.held} onApply={() => setApplying(true)} />
              ) : (
                <>
                  <Money of={row.held} /> is held for them.
                </>
              )}{" "}
            </>
          )}
          {row.credit.minor !== 0 && (
            <>
              They have <Money of={row.credit} /> of credit.{" "}
              {mayAct && first && (
                <Do onClick={() => act.mutate(acts.putCredit(first.invoiceId))}>Put it on {first.number}</Do>
              )}
            </>
          )}
        </p>
      )}
      <Refused by={act.error} />
      <Table
        look="entries"
        className={receivablesCss.openParts}
        rows={row.open}
        id={(part) => `${part.invoiceId} ${part.part}`}
        columns={[
          ...parts,
          {
            name: "Open",
            number: true,
            cell: (part) =>
              mayAct ? (
                <button
                  type="button"
                  className="quiet figure"
                  title="Record a payment on it"
                  onClick={() => onPay(part.invoiceId)}
                >
                  <Money of={part.open} />
                </button>
              ) : (
                <Money of={part.open} />
              ),
          },
        ]}
      />
      <p className={formCss.ending}>
        {mayAct && <Do onClick={() => onPay(1)}>Record a payment</Do>}
        {mayAct && row.mostLate > 0 && <Do onClick={() => setReminding(true)}>Remind of what is late</Do>}
        <Do onClick={() => navigate(`/receivables?show=payments&client=${row.clientId}`)}>Their payments</Do>
        <Do onClick={() => navigate(`/billing?show=register&client=${row.clientId}`)}>Their invoices</Do>
      </p>
      {reminding && (
        <Suspense>
          <LetterForm
            of={{ letter: { kind: "reminder", id: row.clientId, entityId: 0, currency: row.total.currency, tone: "" } }}
            title={`Remind ${row.client}`}
            onDone={() => setReminding(false)}
          />
        </Suspense>
      )}
    </>
  );
}
