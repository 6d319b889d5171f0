import { Button } from "antd";
import { useState } from "react";
import { Link, NavLink } from "react-router";
import type { Schema } from "../../api/client";
import { hoursSaid } from "../../api/hours";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Moneys, Sums, useMoneyText } from "../../frame/figure";
import { orAll } from "../../frame/pick";
import { SaidAnyDate, SaidChoice, SaidDate, SaidText, Sentence } from "../../frame/sentence";
import { Loss, Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { EngagementFolio } from "./engagement-folio";
import {
  arrangementWords,
  daysOf,
  selectionOf,
  useMakeDrafts,
  useTally,
  useUnbilled,
  useWipAddress,
  type WipAddress,
} from "./use-wip";
import wipCss from "./wip.module.css";
import { type Row, rowsOf, WorkList } from "./work-list";

type Filter = Pick<
  WipAddress,
  | "upTo"
  | "from"
  | "lead"
  | "client"
  | "group"
  | "arrangement"
  | "cycle"
  | "atLeast"
  | "order"
  | "dated"
  | "chargesUpTo"
  | "terms"
  | "name"
  | "text"
>;

const cycles = [
  { value: "", label: "every cycle" },
  { value: "month", label: "monthly" },
  { value: "quarter", label: "quarterly" },
  { value: "half", label: "half-yearly" },
  { value: "year", label: "yearly" },
  { value: "end", label: "at the end" },
  { value: "asked", label: "when asked" },
];

const arrangements = orAll(
  "",
  "every arrangement",
  Object.entries(arrangementWords).map(([value, said]) => [value, said.toLowerCase()]),
);

const orders = [
  { value: "", label: "by client" },
  { value: "value", label: "most to bill first" },
  { value: "oldest", label: "oldest first" },
  { value: "last_billed", label: "longest without a bill first" },
  { value: "budget", label: "most used budget first" },
];

/** The two views of the stage: what can be billed, and where the engagements stand. */
export function WipViews() {
  return (
    <nav className={deskCss.views} aria-label="Views">
      <NavLink to="/wip" end>
        Unbilled
      </NavLink>
      <NavLink to="/wip/board">Board</NavLink>
    </nav>
  );
}

/** Everything unbilled, by client and engagement: chosen, added up, made into drafts. */
export function WipDesk() {
  const address = useWipAddress();
  const { role } = useSession();
  const list = useUnbilled(address);
  const everything = useUnbilled({
    ...address,
    lead: 0,
    client: 0,
    arrangement: "",
    cycle: "",
    group: "",
    atLeast: "0.00",
    order: "",
  }); // without filters it is the list itself, asked once
  const rows = rowsOf(list.data?.clients ?? []);
  const shown = new Set(rows.flatMap((row) => (row.work ? [row.work.engagementId] : [])));
  const picked = [...address.picked].filter((id) => shown.has(id));
  const selection = selectionOf(address, picked);
  const tally = useTally(selection);
  const make = useMakeDrafts();
  const [made, setMade] = useState<Schema["Made"][]>([]);
  const open = rows.find((row) => row.work?.engagementId === address.open);
  const makeDrafts = () =>
    make.mutate(selection, {
      onSuccess: (drafts) => {
        setMade(drafts);
        address.change({ pick: undefined, no_time: undefined, no_expenses: undefined, no_charges: undefined });
      },
    });
  const clients = everything.data?.clients ?? [];
  const drafts = picked.length === 0 ? 0 : (tally.data?.drafts ?? 0);
  const mayBill = role === "administrator";
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<WipViews />}>What can be billed</Title>
        <Filters address={address} clients={clients} />
        {mayBill && <RunSentence address={address} />}
        <WorkList
          read={list}
          rows={rows}
          address={address}
          picked={new Set(picked)}
          mayPick={mayBill}
          onMake={() => mayBill && drafts > 0 && makeDrafts()}
        />
      </div>
      <EngagementFolio
        work={open?.work}
        client={open?.client}
        days={daysOf(address)}
        engagements={clients.flatMap((c) =>
          c.engagements.map((e) => ({ id: e.engagementId, name: `${c.client} › ${e.engagement}` })),
        )}
      />
      <Tally
        of={list}
        notice={
          <Notice
            made={made}
            problem={make.error ?? tally.error ?? make.undo.error}
            undoing={make.undo.isPending}
            onUndo={() => make.undo.mutate(made, { onSuccess: () => setMade([]) })}
          />
        }
        actions={
          mayBill && (
            <Button type="primary" disabled={drafts === 0} loading={make.isPending} onClick={makeDrafts}>
              {makeWords(drafts, address.run)}
            </Button>
          )
        }
      >
        {picked.length > 0 ? <Chosen tally={tally.data} /> : <Everything rows={rows} />}
      </Tally>
    </>
  );
}

const makeWords = (drafts: number, run: number) => {
  if (drafts === 0) return "Make drafts";
  const words = `${drafts} ${drafts === 1 ? "draft" : "drafts"}`;
  return run > 0 ? `Add ${words} to the run` : `Make ${words}`;
};

/** A filter of the address, for its place in the sentence. */
const said = <N extends keyof Filter>(address: WipAddress, name: N) => ({
  value: address[name],
  onChange: (to: Filter[N]) => address.change({ [name]: to ? String(to) : undefined }),
});

function Filters({ address, clients }: { address: WipAddress; clients: Schema["ClientWork"][] }) {
  const groups = [...new Set(clients.flatMap((c) => c.groups))].sort();
  const leads = clients.flatMap((c) => c.engagements.map((e) => [e.leadId, e.lead] as const));
  return (
    <Sentence>
      Everything unbilled up to <SaidDate label="Up to" {...said(address, "upTo")} />, since{" "}
      <SaidAnyDate label="Since" any="the last bill" {...said(address, "from")} />, for{" "}
      <SaidChoice label="Lead" choices={orAll(0, "all leads", leads)} {...said(address, "lead")} />, of{" "}
      <SaidChoice
        label="Client"
        choices={orAll(
          0,
          "all clients",
          clients.map((c) => [c.clientId, c.client]),
        )}
        {...said(address, "client")}
      />
      {groups.length > 0 && (
        <>
          {" "}
          in{" "}
          <SaidChoice
            label="Group of clients"
            choices={orAll(
              "",
              "every group",
              groups.map((group) => [group, group]),
            )}
            {...said(address, "group")}
          />
        </>
      )}
      , <SaidChoice label="Arrangement" choices={arrangements} {...said(address, "arrangement")} />, billed{" "}
      <SaidChoice label="Cycle" choices={cycles} {...said(address, "cycle")} />, worth at least{" "}
      <SaidText label="Worth at least" {...said(address, "atLeast")} />,{" "}
      <SaidChoice label="Order" choices={orders} {...said(address, "order")} />
    </Sentence>
  );
}

/** What the drafts of the selection will say: always there, so that nothing moves when something is selected. */
function RunSentence({ address }: { address: WipAddress }) {
  if (address.run > 0)
    return (
      <p className={wipCss.runSentence}>
        What is selected is added to <Link to={`/billing?run=${address.run}`}>the run</Link>, with its days.{" "}
        <Do onClick={() => address.change({ run: undefined })}>A run of its own</Do>
      </p>
    );
  return (
    <div className={wipCss.runSentence}>
      <Sentence>
        Drafts dated <SaidDate label="Dated" {...said(address, "dated")} />, with charges due up to{" "}
        <SaidAnyDate label="Charges up to" any="that day" {...said(address, "chargesUpTo")} />, on{" "}
        <SaidText label="Terms" as="terms" any="each client's terms" {...said(address, "terms")} />, called{" "}
        <SaidText label="Name of the run" any="by the day" {...said(address, "name")} />, opening with{" "}
        <SaidText label="Opening text" any="each client's text" {...said(address, "text")} />
      </Sentence>
    </div>
  );
}

/** While nothing is chosen: all that is shown. */
function Everything({ rows }: { rows: Row[] }) {
  const parts = rows.flatMap(({ work }) => (work ? [{ of: work.engagement, amount: work.value }] : []));
  return (
    <>
      <TallySum figure={`${parts.length} engagements`} what="none chosen" />
      <TallySum figure={<Sums label="To bill, net" parts={parts} />} what="to bill in all, net" />
    </>
  );
}

/** What the selection comes to, to the cent: what is billed, what stays, what is given away. */
function Chosen({ tally }: { tally?: Schema["Tally"] }) {
  if (!tally) return null;
  const { drafts, engagements } = tally;
  const some = (of: Schema["Amount"][]) => of.some((amount) => amount.minor !== 0);
  const sum = (of: Schema["Amount"][], what: string) =>
    some(of) && <TallySum figure={<Moneys of={of} />} what={what} />;
  return (
    <>
      <TallySum
        figure={`${engagements} ${engagements === 1 ? "engagement" : "engagements"}`}
        what={`${drafts} ${drafts === 1 ? "invoice" : "invoices"}`}
      />
      <TallySum figure={hoursSaid(tally.minutes)} what={`${tally.entries} entries`} />
      {sum(tally.time, "time")}
      {sum(tally.expenses, "expenses")}
      {sum(tally.charges, "charges")}
      <Loss of={tally.overCap} what="over the cap, stays" />
      <Loss of={tally.held} what="on hold, stays" />
      <Loss of={tally.left} what="left, stays" />
      <Loss of={tally.noCharge} what="no charge" />
      <Loss of={tally.advances} what="advances" />
      <Loss of={tally.discount} what="discount" />
      {sum(tally.surcharge, "surcharge")}
      <TallySum figure={<Moneys of={tally.net} />} what="to bill, net" />
      {sum(tally.credit, "credit, taken")}
      {sum(tally.funds, "funds will be applied")}
      {tally.withoutRate > 0 && (
        <TallySum
          lost
          figure={<Link to="/set-up/rates">{tally.withoutRate} entries</Link>}
          what="stay, without a rate"
        />
      )}
      {tally.openPrices > 0 && <TallySum lost figure={tally.openPrices} what="prices to give" />}
    </>
  );
}

interface NoticeProps {
  made: Schema["Made"][];
  problem: Error | null;
  undoing: boolean;
  onUndo: () => void;
}

/** What was just done, with the way to it and the way back. */
function Notice({ made, problem, undoing, onUndo }: NoticeProps) {
  const money = useMoneyText();
  if (problem) return <span className="refusal">{problem.message}</span>;
  const first = made[0];
  if (!first) return null;
  return (
    <span>
      Made {made.length} {made.length === 1 ? `draft of ${money(first.net)} for ${first.client}` : "drafts"}.{" "}
      <Link to={made.length === 1 ? `/billing/${first.id}` : `/billing?run=${first.runId}`}>Review</Link>{" "}
      <Do disabled={undoing} onClick={onUndo}>
        Undo
      </Do>
    </span>
  );
}
