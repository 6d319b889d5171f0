import { Button, Input } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Money, Moneys } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { days, money, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { ChooseRecord } from "../../frame/record/choose";
import { useOptions } from "../../frame/record/use-record";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
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
  const [search, setSearch] = useSearchParams();
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
  const change = (name: string, value: string) => {
    const next = new URLSearchParams(window.location.search);
    if (value) next.set(name, value);
    else next.delete(name);
    setSearch(next, { replace: true });
  };
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
            onChange={(value) => change("show", value === "open" ? "" : value)}
          />
          , for{" "}
          <SaidChoice
            label="Lead"
            value={lead}
            choices={[{ value: 0, label: "all leads" }, ...leads.map(([value, label]) => ({ value, label }))]}
            onChange={(value) => change("lead", value ? String(value) : "")}
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
      <table className={tableCss.plain}>
        <tbody>
          <tr>
            <th scope="row">Sent</th>
            <td className="number">{row.sentDay ? long(row.sentDay) : "not yet"}</td>
          </tr>
          <tr>
            <th scope="row">Opened</th>
            <td className="number">{row.seenAt ? instant(row.seenAt) : row.sentDay ? "not yet" : "–"}</td>
          </tr>
          <tr>
            <th scope="row">Answered</th>
            <td className="number">{row.answered ? `${long(row.answered)}, ${row.state}` : "–"}</td>
          </tr>
        </tbody>
      </table>
      <Link to={`/pricing/${row.id}`}>Open {row.number}</Link>
    </>
  );
}

function Months({ months }: { months: Schema["MonthWon"][] }) {
  if (months.length === 0) return null;
  return (
    <section aria-label="Won and lost">
      <h2 className="sub">Won and lost, by month</h2>
      <table className={tableCss.plain}>
        <thead>
          <tr>
            <th scope="col">Month</th>
            <th scope="col" className="number">
              Won
            </th>
            <th scope="col" className="number">
              Lost
            </th>
          </tr>
        </thead>
        <tbody>
          {months.map((month) => (
            <tr key={month.month + month.won.currency}>
              <th scope="row">{long(month.month).replace("1 ", "")}</th>
              <td className="number">
                <Money of={month.won} /> <span className="soft">{month.wonCount || ""}</span>
              </td>
              <td className="number">
                <Money of={month.lost} /> <span className="soft">{month.lostCount || ""}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
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
  const clients = useOptions("clients");
  const [client, setClient] = useState("");
  const [prospect, setProspect] = useState("");
  const [name, setName] = useState("");
  const given = Number(search.get("client") ?? 0);
  const key = client || clients.data?.find((option) => option.id === given)?.key || "";
  const chosen = clients.data?.find((option) => option.key === key);
  const begin = useAct((body: Schema["Begun"]) => api.post("/api/proposals", { body }), {
    done: (made) => {
      onMade(made.id);
    },
  });
  const body = { clientId: prospect.trim() ? 0 : (chosen?.id ?? 0), prospect, name };
  return (
    <form
      className={clsx(formCss.inPlace, pricingCss.newProposal)}
      onSubmit={(event) => {
        event.preventDefault();
        begin.mutate(body);
      }}
    >
      <h2>New proposal</h2>
      <div className={pricingCss.newProposalFields}>
        <label>
          Client
          <ChooseRecord kind="clients" label="Client" value={key} underlined onChoose={setClient} />
        </label>
        <label>
          or somebody new
          <Input
            variant="underlined"
            autoFocus={given === 0}
            value={prospect}
            onChange={(event) => setProspect(event.target.value)}
          />
        </label>
        <label>
          Name, for us
          <Input
            variant="underlined"
            autoFocus={given > 0}
            placeholder="the client's name and the year"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
      </div>
      {chosen?.warning && <p className={deskCss.findingBox}>Marked “{chosen.warning}”. Ask before you go on.</p>}
      <Refused by={begin.error} />
      <p className={formCss.buttons}>
        <Button type="primary" htmlType="submit" loading={begin.isPending}>
          Begin
        </Button>
        <Button onClick={onCancel}>Leave it</Button>
      </p>
    </form>
  );
}
