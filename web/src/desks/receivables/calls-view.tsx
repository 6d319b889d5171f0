import { Fragment, useState } from "react";
import { Link } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Fact, Facts } from "../../frame/facts";
import { Money } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { count, days, several, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { CallForm, outcomes } from "./call-form";
import { Dealings } from "./dealings";
import { type Outcome, type ToCall, useCalls, useRecordCall } from "./use-reminding";
import { MoneyViews } from "./views";

const lastWords: Record<string, string> = {
  reminded: "reminded",
  promised: "promised",
  unreached: "not reached",
  asked: "they look after it",
  disputes: "something is wrong",
};

/** What makes a call more or less urgent, in words. */
const beside = (c: ToCall) =>
  [c.broken && `promised for ${long(c.broken)}, not paid`, c.again && `again from ${long(c.again)}`]
    .filter(Boolean)
    .join("; ");

/** How late a client pays, in words. */
const habit = (days: number) => (days > 0 ? `${days} late` : days < 0 ? `${-days} early` : "on the day");

const columns: Column<ToCall>[] = [
  text("Client", (c) => c.client, {
    names: "light",
    cell: (c) => (
      <>
        {c.client}
        {beside(c) && <span className="under">{beside(c)}</span>}
      </>
    ),
  }),
  text("Ask for", (c) => c.contact),
  text("Telephone", (c) => c.phone, { whole: true }),
  several("Late", (c) => c.late),
  count("Days late", (c) => c.daysLate, { tone: () => "lost" }),
  count("As a rule", (c) => c.usual, { cell: (c) => habit(c.usual) }),
  days("Last word", (c) => c.last, {
    cell: (c) => (c.last ? `${long(c.last)}, ${lastWords[c.lastWas] ?? ""}` : "never"),
  }),
];

/** Whom to call, the call that is worth most first; what came of it is kept by one key, or two. */
export function CallsView() {
  const { role } = useSession();
  const may = role === "administrator";
  const calls = useCalls();
  const rows = calls.data ?? [];
  const record = useRecordCall();
  const [doing, setDoing] = useState<{ client: number; outcome: Outcome }>();
  const list = useList({
    name: "calls",
    rows,
    columns,
    id: (c) => c.clientId,
    text: (c) => `${c.client} ${c.contact} ${c.phone}`,
    onMove: () => setDoing(undefined),
  });
  const { row } = list;
  const keep = (c: ToCall, outcome: Outcome) => {
    if (outcome !== "unreached") setDoing({ client: c.clientId, outcome });
    else if (!record.isPending) record.mutate({ clientId: c.clientId, outcome, with: c.contact });
  };
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Whom to call</Title>
        <Sentence>
          Clients with something late, those first whose call is worth most: what is late, how long, and how late they
          pay as a rule
        </Sentence>
        <List
          main
          label="Whom to call"
          list={list}
          read={calls}
          keys={
            may ? Object.fromEntries(outcomes.map(({ key, outcome }) => [key, (c: ToCall) => keep(c, outcome)])) : {}
          }
          empty={<p>Nobody has to be called: nothing is late that is not promised, disputed or left alone.</p>}
        />
        <Refused by={record.error} />
      </div>
      <Folio label="Client">
        {!row ? (
          <h2>Nobody to call</h2>
        ) : (
          <>
            <p className={deskCss.folioOver}>
              <Link to={`/clients/${row.clientId}`}>{row.client}</Link>
            </p>
            <h2>
              {row.late.map((amount, i) => (
                <Fragment key={amount.currency}>
                  {i > 0 && " + "}
                  <Money of={amount} />
                </Fragment>
              ))}{" "}
              late
            </h2>
            <Facts>
              <Fact of="Ask for">{row.contact}</Fact>
              <Fact of="Telephone">
                {row.phone && <a href={`tel:${row.phone.replaceAll(" ", "")}`}>{row.phone}</a>}
              </Fact>
              <Fact of="Oldest">{row.daysLate} days late</Fact>
              <Fact of="They pay">
                {habit(row.usual)}, as a rule
                {row.payments < 5 && ", like others: too few payments of theirs"}
              </Fact>
              <Fact of="Promised">{row.promised && long(row.promised)}</Fact>
            </Facts>
            {may && doing?.client === row.clientId ? (
              <CallForm
                key={doing.outcome}
                client={row.clientId}
                contact={row.contact}
                outcome={doing.outcome}
                onDone={() => setDoing(undefined)}
              />
            ) : (
              may && (
                <p className={formCss.ending}>
                  {outcomes.map(({ key, outcome, words }) => (
                    <Do key={key} title={key} onClick={() => keep(row, outcome)}>
                      {words}
                    </Do>
                  ))}
                </p>
              )
            )}
            <Dealings client={row.clientId} mayAct={may} />
          </>
        )}
      </Folio>
      <Tally of={calls}>
        <TallySum figure={rows.length} what={rows.length === 1 ? "client" : "clients"} />
      </Tally>
    </>
  );
}
