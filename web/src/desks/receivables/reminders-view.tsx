import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { useSession } from "../../api/session";
import { useAddress } from "../../frame/address";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money, Sums } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { JobProgress } from "../../frame/job";
import { count, days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { LetterShown } from "../letters/letter-shown";
import { Dealings } from "./dealings";
import { HoldForm } from "./hold-form";
import { type ToRemind, usePreviewReminder, useReminders, useSendReminders } from "./use-reminding";
import { MoneyViews } from "./views";

const shown = [
  { value: "today", label: "that are due today" },
  { value: "over", label: "that do not go, and why" },
  { value: "all", label: "that go or do not, of everybody who is late" },
];

const columns: Column<ToRemind>[] = [
  text("Client", (r) => r.client, { names: "light" }),
  text("Step", (r) => r.step, { cell: (r) => (r.goes ? r.step : <span className="soft">{r.why}</span>) }),
  text("To", (r) => r.to || (r.goes ? "no address" : "")),
  count("Days late", (r) => Math.max(0, r.mostLate), { tone: (r) => r.mostLate > 0 && "lost" }),
  money("Asks for", (r) => r.amount),
  days("Last", (r) => r.last),
  days("Then", (r) => r.next),
];

/** What plans of reminders do today: read first, then sent in one go. */
export function RemindersView() {
  const { search, change } = useAddress();
  const { role } = useSession();
  const may = role === "administrator";
  const show = search.get("which") ?? "today";
  const reminders = useReminders();
  const { job, send } = useSendReminders();
  const all = reminders.data ?? [];
  const due = all.filter((r) => r.goes);
  const rows = show === "all" ? all : show === "over" ? all.filter((r) => !r.goes) : due;
  const list = useList({
    name: "reminders",
    rows,
    columns,
    id: (r) => `${r.clientId} ${r.entityId} ${r.currency}`,
    text: (r) => `${r.client} ${r.step} ${r.why} ${r.invoices.map((one) => one.number).join(" ")}`,
  });
  const { row } = list;
  const chosen = list.chosen.filter((r) => r.goes);
  const sends = chosen.length > 0 ? chosen : due.filter((r) => !r.byHand);
  const houses = new Set(all.map((r) => r.entityId)).size > 1;
  const waits = due.filter((r) => r.byHand).length;
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Reminders</Title>
        <Sentence>
          Letters of the <Link to="/set-up">plans of reminders</Link>{" "}
          <SaidChoice
            label="Which"
            value={show}
            choices={shown}
            onChange={(which) => change({ which: which === "today" ? undefined : which }, {})}
          />
        </Sentence>
        <List
          main
          label="Reminders"
          list={list}
          read={reminders}
          choice={may && show !== "over" ? list.chooses((r) => r.client) : undefined}
          empty={
            <p>
              {all.length === 0
                ? "Nothing is late."
                : "No letter is due today. The next ones stand under “of everybody”."}
            </p>
          }
        />
      </div>
      <Folio label="Reminder">
        {row ? (
          <ReminderFolio
            key={`${row.clientId} ${row.entityId} ${row.currency}`}
            row={row}
            houses={houses}
            mayAct={may}
          />
        ) : (
          <h2>No letter</h2>
        )}
      </Folio>
      <Tally
        of={reminders}
        notice={
          <>
            <Refused by={send.error} />
            {job.job && <JobProgress job={job.job} what="Sending" onForget={job.forget} />}
          </>
        }
        actions={
          may && (
            <Button
              type="primary"
              disabled={sends.length === 0 || job.job?.state === "running"}
              loading={send.isPending}
              onClick={() => send.mutate(sends, { onSuccess: () => list.forget() })}
            >
              {sends.length === 0
                ? "None to send"
                : sends.length === 1
                  ? "Send 1 reminder"
                  : `Send ${sends.length} reminders`}
            </Button>
          )
        }
      >
        <TallySum figure={due.length} what={due.length === 1 ? "letter due today" : "letters due today"} />
        {waits > 0 && <TallySum figure={waits} what="of them for a person to send" />}
        <TallySum
          figure={<Sums label="Asked for" parts={due.map((r) => ({ of: r.client, amount: r.amount }))} />}
          what="asked for"
        />
        <TallySum figure={all.length - due.length} what="passed over" />
      </Tally>
    </>
  );
}

const invoices = (goes: boolean): Column<ToRemind["invoices"][number]>[] => [
  {
    name: "Invoice",
    names: "light",
    cell: (one) => (
      <>
        <Link to={`/billing/${one.invoiceId}`}>{one.number}</Link>
        {(one.why || (goes && one.step) || one.reached) && (
          <span className="under">
            {one.why || (goes && one.step ? `now: ${one.step}` : `reminded after ${one.reached}`)}
          </span>
        )}
      </>
    ),
  },
  {
    name: "Due",
    whole: true,
    cell: (one) => (
      <>
        {long(one.due)}
        {one.daysLate > 0 && <span className="under lost">{one.daysLate} days late</span>}
      </>
    ),
  },
];

/** One account: what the letter asks for, how it reads, and what was said before. */
function ReminderFolio({ row, houses, mayAct }: { row: ToRemind; houses: boolean; mayAct: boolean }) {
  const preview = usePreviewReminder();
  const [holding, setHolding] = useState<{ invoice: number; title: string }>();
  const letter = preview.data?.[0];
  return (
    <>
      <p className={deskCss.folioOver}>
        <Link to={`/clients/${row.clientId}`}>{row.client}</Link>
        {houses && `, from ${row.entity}`}
      </p>
      <h2>
        {row.amount.minor === 0 ? (
          "Nothing is asked for"
        ) : (
          <>
            <Money of={row.amount} /> {row.goes ? "asked for" : "late, not asked for"}
          </>
        )}
      </h2>
      {row.why && <p className={deskCss.findingBox}>No letter: {row.why}.</p>}
      {row.byHand && <p className="soft">This step is for a person: choose it to send it.</p>}
      <Table
        look="entries"
        rows={row.invoices}
        id={(one) => one.invoiceId}
        columns={[
          ...invoices(row.goes),
          {
            name: "Open",
            number: true,
            cell: (one) => (
              <>
                <Money of={one.open} />
                {mayAct && !one.why && (
                  <span className="under">
                    <Do
                      aria-label={`leave alone ${one.number}`}
                      onClick={() => setHolding({ invoice: one.invoiceId, title: `Leave ${one.number} alone` })}
                    >
                      leave alone
                    </Do>
                  </span>
                )}
              </>
            ),
          },
        ]}
      />
      {holding ? (
        <HoldForm
          title={holding.title}
          client={row.clientId}
          invoice={holding.invoice}
          onDone={() => setHolding(undefined)}
        />
      ) : (
        <p className={formCss.ending}>
          {mayAct && row.goes && <Do onClick={() => preview.mutate(row)}>Read the letter</Do>}
          {mayAct && !row.why.startsWith("left alone") && (
            <Do onClick={() => setHolding({ invoice: 0, title: `Leave ${row.client} alone` })}>Leave them alone</Do>
          )}
        </p>
      )}
      <Refused by={preview.error} />
      {letter && (
        <>
          {letter.problem && <p className={deskCss.findingBox}>{letter.problem}</p>}
          <LetterShown letter={letter} />
        </>
      )}
      <Dealings client={row.clientId} mayAct={mayAct} />
    </>
  );
}
