import { Button } from "antd";
import { clsx } from "clsx";
import { Fragment, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { hours, Moneys } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { days, money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import sentenceCss from "../../frame/sentence.module.css";
import tableCss from "../../frame/table.module.css";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { InvoicesOf } from "../billing/invoices-of";
import { BudgetBar } from "../engagements/budget-bar";
import { ExpensesOf } from "../time/work-of";
import { AddressCopy } from "./address-copy";
import { Belongings } from "./belongings";
import { HandedOver } from "./handed-over";
import { LikeTemplate } from "./like-template";
import { Payments } from "./payments";
import { ClientProposals } from "./proposals";
import { Questionnaires } from "./questionnaires";
import { Steps } from "./steps";
import { arrangementWords, type Overview, stageWords, useClient } from "./use-clients";

/** One client: how it stands, and everything that hangs on it. */
export function ClientDesk() {
  const id = Number(useParams().id);
  const client = useClient(id);
  const { today } = useSession();
  const mayChange = useMayChange("clients");
  const [making, setMaking] = useState(false);
  const navigate = useNavigate();
  if (client.error) return <p className={clsx("refusal", deskCss.pageRefusal)}>{client.error.message}</p>;
  if (!client.data) return null;
  const c = client.data;
  return (
    <>
      <div className={clsx(deskCss.deskMain, deskCss.scrolls)}>
        <p className={deskCss.over}>
          <Link to="/clients">Clients</Link> · {c.code}
          {!c.active && " · inactive"}
        </p>
        <Title>{c.name}</Title>
        <p className={sentenceCss.sentence}>
          {c.status}
          {c.caredForBy && <>, cared for by {c.caredForBy}</>},{" "}
          {c.lastBilled ? <>last billed {long(c.lastBilled)}</> : "never billed"}.
          {c.onboarding && (
            <>
              {" "}
              Being onboarded: {c.openSteps} of {c.allSteps} steps to do.
            </>
          )}
        </p>
        {c.warns && (
          <p className={deskCss.findingBox}>
            <b>Marked “{c.status}”.</b> Ask before new work begins.
          </p>
        )}
        {c.otherTax.length > 0 && (
          <p className={deskCss.findingBox}>
            <b>Taxed otherwise on open drafts.</b> The client, or its work, has another tax now:{" "}
            {c.otherTax.map((draft, at) => (
              <Fragment key={draft}>
                {at > 0 && ", "}
                <Link to={`/billing/${draft}`}>{c.drafts.find((d) => d.id === draft)?.engagements ?? "a draft"}</Link>
              </Fragment>
            ))}
            . Take it there, or leave it.
          </p>
        )}
        {making && (
          <div className={formCss.inPlace}>
            <h2>New engagement</h2>
            <NewRecord
              kind="engagements"
              known={{ client: c.code }}
              onMade={(made) => navigate(`/engagements/${made.id}`)}
              onCancel={() => setMaking(false)}
            />
            <LikeTemplate clientId={id} onMade={(made) => navigate(`/engagements/${made}`)} />
          </div>
        )}
        <Work client={c} />
        <Belongings kind="contacts" title="Contacts" client={c} first="main" />
        {c.allSteps > 0 && <Steps client={c} />}
        <InvoicesOf
          rows={[...c.drafts, ...c.invoices]}
          more={`/billing?show=register&client=${id}`}
          of={(invoice) => invoice.engagements}
        />
        <Belongings kind="client-notes" title="Notes" client={c} />
        <Coming bills={c.coming} />
        <ClientProposals id={id} />
        <Questionnaires client={c} />
        <ExpensesOf on={{ clients: String(id) }} />
        <Payments id={id} />
        <HandedOver id={id} />
      </div>
      <Folio label="Client">
        <p className={deskCss.folioOver}>What is known, and how it is billed</p>
        <RecordSheet
          kind="clients"
          id={id}
          open={["Client", "Billing"]}
          ends={mayChange ? { "Reaching it": <AddressCopy id={id} /> } : undefined}
          onGone={() => navigate("/clients")}
        />
      </Folio>
      <Tally
        actions={
          <>
            <Button onClick={() => navigate(`/pricing?new=yes&client=${id}`)}>New proposal</Button>
            {mayChange && <Button onClick={() => navigate(`/billing/new?client=${id}`)}>New invoice</Button>}
            <Button onClick={() => navigate(`/time/list?clients=${id}`)}>Its time</Button>
            <Button onClick={() => navigate(`/wip?client=${id}&upTo=${today}`)}>What can be billed</Button>
            {mayChange && (
              <Button
                type="primary"
                disabled={!c.active}
                title={c.active ? undefined : "The client is inactive: take it back first"}
                onClick={() => setMaking(true)}
              >
                New engagement
              </Button>
            )}
          </>
        }
      >
        <TallySum
          figure={<Moneys of={c.unbilled} />}
          what={c.unbilled.length > 0 ? `to bill, net, oldest ${c.oldestDays} days` : "to bill"}
        />
        {c.expenses.length > 0 && <TallySum figure={<Moneys of={c.expenses} />} what="of it expenses" />}
        <TallySum figure={<Moneys of={c.owed} />} what="owed, gross" />
        {c.held.length > 0 && <TallySum figure={<Moneys of={c.held} />} what="held for them" />}
        {c.credit.length > 0 && <TallySum figure={<Moneys of={c.credit} />} what="their credit" />}
        {c.late.length > 0 && <TallySum lost figure={<Moneys of={c.late} />} what="of it late" />}
      </Tally>
    </>
  );
}

const works: Column<Overview["work"][number]>[] = [
  text("Engagement", (e) => e.name, {
    names: "strong",
    cell: (e) => <Link to={`/engagements/${e.id}`}>{e.name}</Link>,
  }),
  text("Arrangement", (e) => arrangementWords[e.arrangement]),
  text("Stage", (e) => (e.active ? stageWords[e.stage] : "inactive")),
  text("Lead", (e) => e.lead),
  { name: "Budget", cell: (e) => e.budget !== undefined && <BudgetBar share={e.budget} /> },
  text("Hours", (e) => hours(e.minutes), { number: true }),
  money("Worth, net", (e) => e.worth),
  money("Billed, net", (e) => e.billed),
  days("Last billed", (e) => e.lastBilled, {
    cell: (e) => long(e.lastBilled) || <span className="soft">never</span>,
  }),
];

const comings: Column<Overview["coming"][number]>[] = [
  days("Bill", (bill) => bill.bill, { names: "light" }),
  text("What", (bill) => bill.text),
  text("Engagement", (bill) => bill.engagement, {
    cell: (bill) => <Link to={`/engagements/${bill.engagementId}`}>{bill.engagement}</Link>,
  }),
  text("For", (bill) => (bill.from ? `${long(bill.from)} to ${long(bill.to)}` : ""), {
    whole: true,
    tone: () => "soft",
  }),
  money("Net", (bill) => bill.amount),
];

/** What comes again by itself. */
function Coming({ bills }: { bills: Overview["coming"] }) {
  if (bills.length === 0) return null;
  return (
    <section aria-label="Coming again">
      <h2 className="sub">Coming again, in the next three months</h2>
      <Table rows={bills} columns={comings} id={(bill) => `${bill.engagementId} ${bill.bill} ${bill.text}`} />
    </section>
  );
}

function Work({ client }: { client: Overview }) {
  if (client.work.length === 0)
    return <p className={deskCss.empty}>No engagement yet. Make the first with “New engagement”: a name is enough.</p>;
  return (
    <section aria-label="Engagements">
      <h2 className="sub">Engagements</h2>
      <Table rows={client.work} columns={works} id={(e) => e.id} tone={(e) => !e.active && tableCss.retired} />
    </section>
  );
}
