import { Button, Radio, Select } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Moneys, useMoneyText } from "../../frame/figure";
import { money as amount, days, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { orAll, Pick } from "../../frame/pick";
import { useOptions } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import { Title } from "../../frame/title";
import beginCss from "./begin.module.css";
import { type Beginning, nothingBegun, useBegin, useOffer } from "./use-begin";
import { type Summary, useRegister } from "./use-billing";

type Offer = Schema["UnbilledSummary"];

/** A single invoice, begun in seconds: whose it is, and what of their unbilled work it takes. */
export function BeginDesk() {
  const [search, setSearch] = useSearchParams();
  const client = Number(search.get("client") ?? 0);
  const navigate = useNavigate();
  const begin = useBegin();
  const clients = useOptions("clients", { has: client ? String(client) : "" });
  const offer = useOffer(client);
  const go = (body: Beginning) => begin.mutate(body, { onSuccess: (made) => navigate(`/billing/${made.id}`) });
  return (
    <div className={clsx(deskCss.deskMain, beginCss.begin)}>
      <Title>An invoice for one client</Title>
      <p className={beginCss.beginClient}>
        <label htmlFor="begin-client">For</label>
        <Select
          id="begin-client"
          autoFocus
          showSearch={clients.search}
          placeholder="type a name"
          value={client || null}
          options={(clients.data ?? []).map((c) => ({ value: c.id, label: c.title, title: c.title }))}
          onChange={(id: number) => setSearch({ client: String(id) })}
        />
      </p>
      {offer.data && <Offered key={client} offer={offer.data} busy={begin.isPending} onBegin={go} />}
      {client > 0 && <Earlier client={client} busy={begin.isPending} onBegin={go} />}
      <Refused by={begin.error} />
    </div>
  );
}

type Take = Beginning["take"];

interface OfferedProps {
  offer: Offer;
  busy: boolean;
  onBegin: (body: Beginning) => void;
}

/** What is unbilled of the client, to take or leave: quietly, because it is offered again on the draft. */
function Offered({ offer, busy, onBegin }: OfferedProps) {
  const money = useMoneyText();
  const works = offer.engagements;
  const [engagement, setEngagement] = useState(0);
  const [person, setPerson] = useState(0);
  const [template, setTemplate] = useState(0);
  // Of one person only the time is billed, and only theirs.
  const theirs = offer.people.find((w) => w.personId === person);
  const sum = (of: "time" | "expenses" | "fees") =>
    theirs && of !== "time"
      ? 0
      : works
          .filter((w) => !engagement || w.engagementId === engagement)
          .reduce((all, w) => all + (theirs ? timeOf(theirs, w.engagementId) : w[of].minor), 0);
  const sums = { time: sum("time"), expenses: sum("expenses"), fees: sum("fees") };
  const currency = works[0]?.time.currency ?? "";
  const mixed = new Set(works.map((w) => w.time.currency)).size > 1 && !engagement;
  const figure = (minor: number) => (mixed ? "" : `, ${money({ minor, currency })}`);
  const all = sums.time + sums.expenses + sums.fees;
  const [take, setTake] = useState<Take>(all ? "all" : "nothing");
  const choices: { value: Take; word: string; minor: number }[] = [
    { value: "all", word: "everything unbilled", minor: all },
    { value: "time", word: "time only", minor: sums.time },
    { value: "expenses", word: "expenses only", minor: sums.expenses },
    { value: "fees", word: "fees that are due", minor: sums.fees },
  ];
  const templates = useTemplates();
  const body: Beginning = {
    ...nothingBegun,
    clientId: offer.clientId,
    engagementId: engagement,
    personId: person,
    templateId: template,
    take,
  };
  return (
    <>
      <Radio.Group
        aria-label="What it takes"
        className={beginCss.beginTake}
        value={take}
        onChange={(event) => setTake(event.target.value)}
        options={[
          ...choices
            .filter((c) => c.minor !== 0)
            .map((c) => ({ value: c.value, label: `${c.word}${figure(c.minor)}` })),
          { value: "nothing" as Take, label: "nothing: lines by hand" },
        ]}
      />
      <p className={beginCss.beginMore}>
        {works.length > 1 && (
          <label>
            of{" "}
            <Pick
              label="Engagement"
              value={engagement}
              choices={orAll(
                0,
                "all that fits on one invoice",
                works.map((w) => [w.engagementId, w.name]),
              )}
              onChange={setEngagement}
            />
          </label>
        )}
        {offer.people.length > 1 && take !== "nothing" && (
          <label>
            worked by{" "}
            <Pick
              label="Worked by"
              value={person}
              choices={orAll(
                0,
                "anybody",
                offer.people.map((w) => [w.personId, w.name]),
              )}
              onChange={setPerson}
            />
          </label>
        )}
        {templates.length > 0 && (
          <label>
            with the lines of{" "}
            <Pick
              label="Lines to begin with"
              value={template}
              choices={[{ value: 0, label: "nothing else" }, ...templates]}
              onChange={setTemplate}
            />
          </label>
        )}
      </p>
      {(offer.funds.length > 0 || offer.credit.length > 0) && (
        <p className="soft">
          {offer.funds.length > 0 && (
            <>
              Held for them: <Moneys of={offer.funds} />
            </>
          )}
          {offer.credit.length > 0 && (
            <>
              Their credit: <Moneys of={offer.credit} />
            </>
          )}
        </p>
      )}
      <p>
        <Button id="begin-now" autoFocus type="primary" loading={busy} onClick={() => onBegin(body)}>
          {take === "nothing" ? "Begin an empty draft" : "Begin the draft"}
        </Button>
      </p>
    </>
  );
}

/** What somebody's time on an engagement comes to, in minor units. */
const timeOf = (person: Schema["SummedPerson"], engagement: number) =>
  person.time.find((t) => t.engagementId === engagement)?.minor ?? 0;

/** The invoices to begin with that the firm has kept. */
function useTemplates() {
  const records = useRead("/api/records/{kind}/options", { path: { kind: "invoice-templates" } });
  return (records.data ?? []).map((one) => ({ value: one.id, label: one.title, title: one.title }));
}

const shownEarlier = 5;

const earlier: Column<Summary>[] = [
  days("Dated", (row) => row.dated),
  text("Engagements", (row) => row.engagements),
  amount("Net", (row) => row.net),
];

interface EarlierProps {
  client: number;
  busy: boolean;
  onBegin: (body: Beginning) => void;
}

/** The client's last invoices, to begin another like one of them. */
function Earlier({ client, busy, onBegin }: EarlierProps) {
  const register = useRegister({ client });
  const rows = (register.data?.invoices ?? []).filter((row) => row.kind === "invoice" && row.clientId === client);
  if (rows.length === 0) return null;
  return (
    <section aria-label="Earlier invoices">
      <h2 className="sub">Or another like an earlier one, with its lines</h2>
      <Table
        headless
        rows={rows.slice(0, shownEarlier)}
        id={(row) => row.id}
        columns={[
          {
            name: "Number",
            names: "light",
            cell: (row) => (
              <Do disabled={busy} onClick={() => onBegin({ ...nothingBegun, likeId: row.id })}>
                {row.number}
              </Do>
            ),
          },
          ...earlier,
        ]}
      />
    </section>
  );
}
