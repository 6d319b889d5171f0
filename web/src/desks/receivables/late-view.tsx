import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money, Sums, summed, useMoneyText } from "../../frame/figure";
import { Folio, useFolio } from "../../frame/folio";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { count, days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { acts, useMoneyAct } from "./use-receivables";
import { MoneyViews } from "./views";

type Row = Schema["LateInvoice"];
type Charged = Schema["LateCharge"];

const columns: Column<Row>[] = [
  text("Client", (row) => row.client, { names: "light" }),
  text("Invoice", (row) => row.number, { cell: (row) => <Link to={`/billing/${row.invoiceId}`}>{row.number}</Link> }),
  days("Due", (row) => row.due),
  count("Days late", (row) => row.daysLate, {
    cell: (row) => (row.daysLate ? row.daysLate : <span className="soft">paid</span>),
  }),
  money("Open", (row) => row.open),
  money("Accrued", (row) => row.accrued, {
    cell: (row) =>
      row.why ? (
        <span className="lost">{row.why}</span>
      ) : (
        <Money of={{ ...row.accrued, explanation: row.explanation }} />
      ),
  }),
  money("Before", (row) => row.before),
  money("To charge", (row) => row.charge),
];

const states: Record<Charged["state"], string> = {
  planned: "with the next invoice",
  reserved: "on a draft",
  billed: "billed",
  waived: "waived",
};

/** What paying late has come to, to be charged or waived; and what was. */
export function LateView() {
  const { role } = useSession();
  const said = useMoneyText();
  const navigate = useNavigate();
  const read = useRead("/api/late-charges");
  const act = useMoneyAct<Schema["ChargedLate"]>();
  const [apart, setApart] = useState(false);
  const [waiving, setWaiving] = useState<Waiving>();
  const folio = useFolio();
  const rows = read.data?.due ?? [];
  const list = useList({
    name: "late charges",
    rows,
    columns,
    id: (row) => row.invoiceId,
    text: (row) => `${row.client} ${row.number}`,
  });
  const administers = role === "administrator";
  const chosen = list.chosen.filter((row) => !row.why);
  const sums = summed(chosen.map((row) => row.charge));
  const charge = () =>
    act.mutate(acts.chargeLate({ invoiceIds: chosen.map((row) => row.invoiceId), apart }), {
      onSuccess: (done) => {
        list.forget();
        if (done.drafts.length === 1) navigate(`/billing/${done.drafts[0]}`);
      },
    });
  const waive = (what: Waiving) => {
    setWaiving(what);
    folio.turn(true);
  };
  const waived = () => {
    setWaiving(undefined);
    list.forget();
  };
  const due = rows.filter((row) => !row.why);
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Late charges</Title>
        <Sentence>
          What paying late has come to up to today, billed{" "}
          <SaidChoice
            label="How"
            value={apart ? "apart" : "next"}
            choices={[
              { value: "next", label: "with the next invoice" },
              { value: "apart", label: "by itself, as drafts" },
            ]}
            onChange={(how) => setApart(how === "apart")}
          />
        </Sentence>
        <List
          main
          label="Late charges"
          list={list}
          read={read}
          choice={administers ? list.chooses((row) => `${row.number}, ${said(row.charge)}`) : undefined}
          empty={
            <p>
              Nothing is to be charged. What paying late costs stands in the profile of firm, client or engagement,
              under <i>Collecting</i>; an invoice has it from when it was issued.
            </p>
          }
        />
        <Refused by={act.error} />
      </div>
      <Folio label="Charged">
        {waiving ? (
          <WaiveForm key={waiving.chargedId} what={waiving} onDone={waived} />
        ) : (
          <ChargedBefore
            rows={read.data?.charged ?? []}
            onWaive={
              administers
                ? (one) => waive({ said: `${said(one.amount)} for ${one.number}`, chargedId: one.id })
                : undefined
            }
          />
        )}
      </Folio>
      <Tally
        of={read}
        actions={
          administers && (
            <>
              <Button
                disabled={chosen.length === 0}
                onClick={() =>
                  waive({
                    said: sums.map((sum) => said(sum)).join(" and "),
                    invoiceIds: chosen.map((row) => row.invoiceId),
                  })
                }
              >
                Waive
              </Button>
              <Button type="primary" disabled={chosen.length === 0} loading={act.isPending} onClick={charge}>
                {chosen.length === 0
                  ? "Charge"
                  : `Charge ${chosen.length}, ${sums.map((sum) => said(sum)).join(" and ")}`}
              </Button>
            </>
          )
        }
      >
        <TallySum figure={due.length} what="to charge" />
        <TallySum
          figure={
            <Sums
              label="To charge"
              parts={due.map((row) => ({ of: `${row.client}, ${row.number}`, amount: row.charge }))}
            />
          }
          what="in all"
        />
      </Tally>
    </>
  );
}

const chargedColumns = (onWaive?: (one: Charged) => void): Column<Charged>[] => [
  text("For", (one) => one.number, {
    names: "light",
    cell: (one) => (
      <>
        {one.number}
        <span className="under">
          {one.client};{" "}
          {one.onId ? <Link to={`/billing/${one.onId}`}>{one.onNumber || "on a draft"}</Link> : states[one.state]}
          {one.waived && `: ${one.waived}`}{" "}
          {one.state === "planned" && onWaive && <Do onClick={() => onWaive(one)}>waive</Do>}
        </span>
      </>
    ),
  }),
  money("Amount", (one) => one.amount),
];

function ChargedBefore({ rows, onWaive }: { rows: Charged[]; onWaive?: (one: Charged) => void }) {
  return (
    <>
      {rows.length > 0 ? (
        <Table
          headless
          caption="Charged or waived"
          rows={rows}
          columns={chargedColumns(onWaive)}
          id={(one) => one.id}
        />
      ) : (
        <p>Nothing yet.</p>
      )}
      <p className="soft">
        Counted from the day after the due day and the days of grace, on what was open on each day, without what is
        disputed; never on late charges. What is charged by a percentage above the reference rate needs{" "}
        <Link to="/set-up/reference-rates">that rate</Link>.
      </p>
    </>
  );
}

interface Waiving {
  said: string;
  invoiceIds?: number[];
  chargedId?: number;
}

function WaiveForm({ what, onDone }: { what: Waiving; onDone: () => void }) {
  const act = useMoneyAct<unknown>();
  const form = useTyping({ reason: "" });
  const body = { invoiceIds: what.invoiceIds ?? [], chargedId: what.chargedId ?? 0, reason: form.typed.reason };
  return (
    <Form
      label="Waive"
      title={`Waive ${what.said}`}
      act={act}
      ok="Waive it"
      ready={form.typed.reason.trim() !== ""}
      onOk={() => act.mutate(acts.waiveLate(body), { onSuccess: onDone })}
      onNo={onDone}
    >
      <TextField of={form} name="reason" label="Why" wide focus />
    </Form>
  );
}
