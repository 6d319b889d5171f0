import { Link, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Money, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidChoice, SaidDate, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { acts, useMoneyAct } from "./use-receivables";
import { MoneyViews } from "./views";

type Reconciliation = Schema["Reconciliation"];
type Difference = Reconciliation["differences"][number];

const whys: Record<Difference["why"], string> = {
  unsaid: "not said yet what it is",
  aside: "nothing of clients",
  later: "recorded later",
  not_yet: "not at the bank by then",
  elsewhere: "came on another account",
  not_made: "transfer not made",
  from_before: "not explained",
};

const open = (one: Difference) => one.why === "unsaid" || one.why === "from_before";

const columns = (account: number): Column<Difference>[] => [
  days("Day", (one) => one.day, { cell: (one) => (one.why === "from_before" ? "" : long(one.day)) }),
  text("Why", (one) => whys[one.why], {
    tone: (one) => open(one) && "lost",
    cell: (one) =>
      one.why === "unsaid" ? (
        <Link to={`/receivables?show=bank&account=${account}`}>{whys[one.why]}</Link>
      ) : (
        whys[one.why]
      ),
  }),
  text("What", (one) => one.text, { names: "light" }),
  money("The bank has more", (one) => one.amount),
];

const held: Column<Reconciliation["held"][number]>[] = [
  text("Client", (one) => one.client, {
    names: "light",
    cell: (one) => (
      <>
        {one.client}
        {one.for && <span className="under">for {one.for}</span>}
      </>
    ),
  }),
  money("Held", (one) => one.held),
];

const kept: Column<Schema["KeptReconciliation"]>[] = [
  text("On", (one) => one.on, {
    names: "light",
    cell: (one) => (
      <>
        <a href={`/api/bank/reconciliations/${one.id}/document`}>{long(one.on)}</a>
        <span className="under">
          {one.account}, by {one.person}
          {one.open > 0 && `, ${one.open} unexplained`}
          {one.note && `: ${one.note}`}
        </span>
      </>
    ),
  }),
  money("Held", (one) => one.ledger),
];

/** How bank, ledger and clients agree on a day, each difference by its name; kept as a document. */
export function ReconcileView() {
  const [search, setSearch] = useSearchParams();
  const account = Number(search.get("account") ?? 0);
  const on = search.get("on") ?? "";
  const read = useRead("/api/bank/reconciliation", { query: { account, on } }, { keeps: true });
  const say = (change: Record<string, string>) =>
    setSearch({
      show: "reconcile",
      ...(account ? { account: String(account) } : {}),
      ...(on ? { on } : {}),
      ...change,
    });
  const found = read.data;
  const list = useList({
    name: "reconciliation",
    rows: found?.differences ?? [],
    columns: columns(found?.accountId ?? 0),
    id: (one) => `${one.why} ${one.day} ${one.text} ${one.amount.minor}`,
    text: (one) => `${one.text} ${whys[one.why]}`,
  });
  const { role } = useSession();
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Reconcile</Title>
        {found && (
          <Sentence>
            <SaidChoice
              label="Account"
              value={found.accountId}
              choices={found.choices.map((one) => ({ value: one.id, label: one.name }))}
              onChange={(id) => say({ account: String(id) })}
            />{" "}
            at the end of <SaidDate label="On" value={found.on} onChange={(day) => say({ on: day })} />: what the bank
            has, less each difference by its name, is what is held for clients
          </Sentence>
        )}
        <Refused by={read.error} />
        {found?.problem && <p className={deskCss.findingBox}>{found.problem}</p>}
        {found && !found.problem && (
          <List
            main
            label="Differences"
            list={list}
            read={read}
            empty={<p>No difference: bank, ledger and clients say the same.</p>}
          />
        )}
      </div>
      <Folio label="Reconciled">
        {found && !found.problem && role === "administrator" && <Keep key={found.on} found={found} />}
        <Kept />
        {found && (
          <Table
            caption="Held for clients"
            rows={found.held}
            columns={held}
            id={(one, index) => `${one.clientId} ${index}`}
          />
        )}
      </Folio>
      <Tally of={read}>
        {found && !found.problem && (
          <>
            <TallySum figure={<Money of={found.bank} />} what="the bank" />
            <TallySum figure={<Money of={found.sum} zero="–" />} what="differences" />
            <TallySum figure={<Money of={found.ledger} />} what="the ledger" />
            <TallySum figure={<Money of={found.clients} />} what="held for clients" />
            {found.open > 0 && <TallySum lost figure={found.open} what="to be explained" />}
          </>
        )}
      </Tally>
    </>
  );
}

function Keep({ found }: { found: Reconciliation }) {
  const said = useMoneyText();
  const act = useMoneyAct<unknown>();
  const form = useTyping({ note: "" });
  const body = { accountId: found.accountId, on: found.on, note: form.typed.note };
  if (act.isSuccess) return <p>It is kept, with its document.</p>;
  return (
    <Form
      label="Keep"
      title={`${long(found.on)}: ${said(found.ledger)} held`}
      act={act}
      ok="Keep it as a document"
      onOk={() => act.mutate(acts.reconcile(body))}
    >
      <TextField
        of={form}
        name="note"
        label="Note"
        hint={found.open > 0 ? `${found.open} to be explained: say why` : undefined}
        wide
      />
    </Form>
  );
}

function Kept() {
  const read = useRead("/api/bank/reconciliations");
  const rows = read.data ?? [];
  return (
    <>
      <Refused by={read.error} />
      {rows.length > 0 ? (
        <Table caption="Kept" headless rows={rows.slice(0, 12)} columns={kept} id={(one) => one.id} />
      ) : (
        <p className="soft">Nothing was kept yet.</p>
      )}
    </>
  );
}
