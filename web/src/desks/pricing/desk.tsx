import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { useAddress } from "../../frame/address";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Fact, Facts } from "../../frame/facts";
import { Money, Moneys } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { RecordField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { useOption } from "../../frame/record/use-record";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import pricingCss from "./pricing.module.css";
import { stateWords, useProposals } from "./use-proposal";

type Row = Schema["ProposalRow"];

const shows = {
  open: { label: "that are open", has: (row: Row) => ["draft", "sent", "seen"].includes(row.state) },
  out: { label: "that are out", has: (row: Row) => row.state === "sent" || row.state === "seen" },
  draft: { label: "that are drafts", has: (row: Row) => row.state === "draft" },
  answered: { label: "that were answered", has: (row: Row) => row.state === "accepted" || row.state === "declined" },
  over: { label: "that are over", has: (row: Row) => ["expired", "withdrawn", "superseded"].includes(row.state) },
  all: { label: "of every state", has: () => true },
};
type Show = keyof typeof shows;

const columns: Column<Row>[] = [
  text("Proposal", (row) => row.name, {
    names: "strong",
    cell: (row) => (
      <>
        <Link to={`/pricing/${row.id}`}>{row.name}</Link> <span className="soft nowrap">{row.number}</span>
      </>
    ),
  }),
  text("Client", (row) => row.client),
  text("Lead", (row) => row.lead ?? "", { whole: true }),
  text("State", (row) => stateWords[row.state] ?? row.state, {
    whole: true,
    cell: (row) => (
      <>
        {stateWords[row.state]}
        {row.questions > 0 && <span className="ochre"> asks something</span>}
      </>
    ),
  }),
  days("Last day", (row) => row.validUntil, {
    tone: (row) => shows.out.has(row) && row.daysLeft <= 7 && "ochre",
    cell: (row) => (
      <>
        {long(row.validUntil)}
        {shows.out.has(row) && <span className="soft"> {left(row.daysLeft)}</span>}
      </>
    ),
  }),
  money("First year, net", (row) => row.firstYear),
];

/** All proposals: what is out, answered, expiring soon; won and lost by month. */
export function PricingDesk() {
  const { role } = useSession();
  const navigate = useNavigate();
  const { search, change } = useAddress();
  const show = (search.get("show") ?? "open") as Show;
  const lead = Number(search.get("lead") ?? 0);
  const [making, setMaking] = useState(search.has("new"));
  const proposals = useProposals();
  const all = proposals.data?.rows ?? [];
  const rows = all.filter((row) => (shows[show] ?? shows.open).has(row) && (lead === 0 || row.leadId === lead));
  const list = useList({
    name: "proposals",
    rows,
    columns,
    id: (row) => row.id,
    text: (row) => `${row.name} ${row.number} ${row.client} ${row.lead} ${stateWords[row.state]}`,
  });
  const leads = [...new Map(all.map((row) => [row.leadId, row.lead])).entries()];
  const mayPrice = role !== "owner";
  const soon = all.filter((row) => shows.out.has(row) && row.daysLeft <= 7);
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>Proposals</Title>
        <Sentence>
          All{" "}
          <SaidChoice
            label="Show"
            value={show}
            choices={(Object.keys(shows) as Show[]).map((value) => ({ value, label: shows[value].label }))}
            onChange={(value) => change({ show: value === "open" ? undefined : value })}
          />
          , for{" "}
          <SaidChoice
            label="Lead"
            value={lead}
            choices={orAll(0, "all leads", leads)}
            onChange={(value) => change({ lead: value ? String(value) : undefined })}
          />
        </Sentence>
        {making && <NewProposal onMade={(made) => navigate(`/pricing/${made}`)} onCancel={() => setMaking(false)} />}
        <List
          main
          label="Proposals"
          list={list}
          read={proposals}
          onOpen={(row) => navigate(`/pricing/${row.id}`)}
          empty={
            all.length === 0 ? (
              <p>
                No proposal yet. Begin the first with “New proposal”: a client, or the name of somebody new, is enough.
              </p>
            ) : (
              <p>None of these. Choose others in the sentence above.</p>
            )
          }
        />
      </div>
      <Folio label="Proposals">
        {list.row && <Selected row={list.row} />}
        <Months months={proposals.data?.months ?? []} />
      </Folio>
      <Tally
        of={proposals}
        actions={
          mayPrice && (
            <Button type="primary" onClick={() => setMaking(true)}>
              New proposal
            </Button>
          )
        }
      >
        <TallySum figure={<Moneys of={proposals.data?.out ?? []} />} what="out, first year net" />
        <TallySum figure={all.filter(shows.out.has).length} what="can be answered" />
        {soon.length > 0 && <TallySum figure={soon.length} what="of them end within a week" />}
      </Tally>
    </>
  );
}

const left = (days: number) => (days === 0 ? "today" : days === 1 ? "1 day left" : `${days} days left`);

function Selected({ row }: { row: Row }) {
  return (
    <>
      <p className={deskCss.folioOver}>{row.client}</p>
      <h2>{row.title}</h2>
      <Facts>
        <Fact of="Sent">{row.sentDay ? long(row.sentDay) : "not yet"}</Fact>
        <Fact of="Opened">{row.seenAt ? instant(row.seenAt) : row.sentDay ? "not yet" : "–"}</Fact>
        <Fact of="Answered">{row.answered ? `${long(row.answered)}, ${row.state}` : "–"}</Fact>
      </Facts>
      <Link to={`/pricing/${row.id}`}>Open {row.number}</Link>
    </>
  );
}

const monthly: Column<Schema["MonthWon"]>[] = [
  text("Month", (month) => long(month.month).replace("1 ", ""), { names: "light" }),
  money("Won", (month) => month.won, {
    cell: (month) => (
      <>
        <Money of={month.won} /> <span className="soft">{month.wonCount || ""}</span>
      </>
    ),
  }),
  money("Lost", (month) => month.lost, {
    cell: (month) => (
      <>
        <Money of={month.lost} /> <span className="soft">{month.lostCount || ""}</span>
      </>
    ),
  }),
];

function Months({ months }: { months: Schema["MonthWon"][] }) {
  if (months.length === 0) return null;
  return (
    <section aria-label="Won and lost">
      <h2 className="sub">Won and lost, by month</h2>
      <Table look="plain" rows={months} columns={monthly} id={(month) => month.month + month.won.currency} />
      <p className="soft">Lost: declined, or ended without an answer.</p>
    </section>
  );
}

interface NewProps {
  onMade: (id: number) => void;
  onCancel: () => void;
}

/** A client, or somebody new; everything else has a default. */
function NewProposal({ onMade, onCancel }: NewProps) {
  const [search] = useSearchParams();
  const given = Number(search.get("client") ?? 0);
  const form = useTyping({ client: "", prospect: "", name: "" });
  const { prospect, name } = form.typed;
  const chosen = useOption("clients", form.typed.client || given);
  const client = form.typed.client || chosen?.key || "";
  const begin = useAct((body: Schema["Begun"]) => api.post("/api/proposals", { body }), {
    done: (made) => {
      onMade(made.id);
    },
  });
  const body = { clientId: prospect.trim() ? 0 : (chosen?.id ?? 0), prospect, name };
  return (
    <Form
      inPlace
      className={pricingCss.newProposal}
      label="New proposal"
      title="New proposal"
      act={begin}
      ok="Begin"
      onOk={() => begin.mutate(body)}
      no="Leave it"
      onNo={onCancel}
    >
      <div className={formCss.across}>
        {prospect ? (
          <TextField of={form} name="prospect" label="Client, somebody new" />
        ) : (
          <RecordField
            of={{ ...form, typed: { ...form.typed, client } }}
            name="client"
            label="Client, or the name of somebody new"
            kind="clients"
            focus={given === 0}
            onNew={(name) => form.set({ client: "", prospect: name })}
          />
        )}
        <TextField
          of={form}
          name="name"
          label="Name, for us"
          placeholder="the client's name and the year"
          focus={given > 0 || prospect !== ""}
        />
      </div>
      {chosen?.warning && <p className={deskCss.findingBox}>Marked “{chosen.warning}”. Ask before you go on.</p>}
    </Form>
  );
}
