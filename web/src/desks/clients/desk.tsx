import { Button } from "antd";
import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import { useAddress } from "../../frame/address";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Money, Moneys } from "../../frame/figure";
import { Folio, useFolio } from "../../frame/folio";
import { count, days, several, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { SaidChoice, Sentence } from "../../frame/sentence";
import tableCss from "../../frame/table.module.css";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { useListAddress } from "../set-up/use-set-up";
import { type Standing, useClients } from "./use-clients";

/** Every client and how it stands. */
export function ClientsDesk() {
  const address = useListAddress();
  const clients = useClients();
  const mayChange = useMayChange("clients");
  const { currency, role } = useSession();
  const navigate = useNavigate();
  const folio = useFolio();
  const { search } = useAddress();
  const standing = search.get("standing") ?? "";
  const [status, industry] = [search.get("status") ?? "", search.get("kind") ?? ""];
  const all = clients.data?.clients ?? [];
  const rows = all
    .filter((c) => stands[standing]?.(c) ?? c.active)
    .filter((c) => (!status || c.status === status) && (!industry || c.industry === industry));
  const among = (of: (c: Standing) => string): [string, string][] =>
    [...new Set(all.map(of))]
      .filter(Boolean)
      .sort()
      .map((word) => [word, word]);
  const list = useList({
    name: "clients",
    rows,
    columns: columns(role !== "lead"),
    id: (c) => c.id,
    text: (c) => `${c.name} ${c.code} ${c.responsible} ${c.caredForBy} ${c.status}`,
    open: address.open,
    sought: { text: address.text, set: (text) => address.change({ text: text || undefined }) },
    onMove: (c) => {
      address.change({ open: String(c.id), new: undefined });
      folio.turn(false);
    },
  });
  const open = rows.find((c) => c.id === address.open);
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>Clients</Title>
        <Sentence>
          Everyone you work for,{" "}
          <SaidChoice
            label="Which clients"
            value={standing}
            choices={[
              { value: "", label: "active ones" },
              { value: "taken_on", label: "those being taken on" },
              { value: "settled", label: "active ones that were taken on" },
              { value: "past", label: "past ones" },
              { value: "all", label: "past ones too" },
            ]}
            onChange={(value) => address.change({ standing: value || undefined })}
          />
          , with{" "}
          <SaidChoice
            label="Status"
            value={status}
            choices={orAll(
              "",
              "any status",
              among((c) => c.status),
            )}
            onChange={(value) => address.change({ status: value || undefined })}
          />
          , of{" "}
          <SaidChoice
            label="Kind of client"
            value={industry}
            choices={orAll(
              "",
              "every kind",
              among((c) => c.industry),
            )}
            onChange={(value) => address.change({ kind: value || undefined })}
          />
        </Sentence>
        <List
          main
          label="Clients"
          list={list}
          read={clients}
          tone={(c) => !c.active && tableCss.retired}
          onOpen={(c) => navigate(`/clients/${c.id}`)}
          keys={{
            e: () => {
              folio.turn(true);
              requestAnimationFrame(() => document.querySelector<HTMLElement>("aside dd button")?.focus());
            },
          }}
          empty={<p>No client yet. Make one with “New client”: a name is enough.</p>}
        />
      </div>
      <Folio label="Client">
        {address.making ? (
          <>
            <h2>New client</h2>
            <NewRecord
              kind="clients"
              onMade={(made) => navigate(`/clients/${made.id}`)}
              onCancel={() => address.change({ new: undefined })}
            />
          </>
        ) : open ? (
          <>
            <p className={deskCss.folioOver}>{open.code}</p>
            <h2>{open.name}</h2>
            <p>
              <Link to={`/clients/${open.id}`}>Open the overview</Link>
            </p>
            <RecordSheet key={open.id} kind="clients" id={open.id} />
          </>
        ) : (
          <>
            <h2>None opened</h2>
            <p className="soft">Choose a client to see what is known of it; Enter opens its overview.</p>
          </>
        )}
      </Folio>
      <Tally
        of={clients}
        actions={
          mayChange && (
            <Button type="primary" onClick={() => address.change({ new: "yes", open: undefined })}>
              New client
            </Button>
          )
        }
      >
        <TallySum figure={list.rows.length} what="clients" />
        {clients.data && (
          <>
            <TallySum figure={<Money of={clients.data.unbilled} />} what={`to bill to all, net, in ${currency}`} />
            {role !== "lead" && <TallySum figure={<Money of={clients.data.owed} />} what="owed by all, gross" />}
            {role !== "lead" && (
              <TallySum
                lost={clients.data.late.minor > 0}
                figure={<Money of={clients.data.late} />}
                what="of it late"
              />
            )}
            {clients.data.without.length > 0 && (
              <TallySum lost figure={clients.data.without.join(", ")} what="left out, without a rate" />
            )}
          </>
        )}
      </Tally>
    </>
  );
}

/** Which clients are listed. */
const stands: Record<string, (c: Standing) => boolean> = {
  taken_on: (c) => c.active && c.onboarding,
  settled: (c) => c.active && !c.onboarding,
  past: (c) => !c.active,
  all: () => true,
};

/** How a client stands; what is owed is not for leads. */
const columns = (seesOwed: boolean): Column<Standing>[] => [
  text("Client", (c) => c.name, {
    names: "strong",
    title: undefined,
    cell: (c) => (
      <>
        <Link to={`/clients/${c.id}`} className="quiet" onClick={(event) => event.stopPropagation()}>
          {c.name}
        </Link>
        {!c.active && <span className={tableCss.beside}> inactive</span>}
      </>
    ),
  }),
  text("Status", (c) => c.status, {
    tone: (c) => c.warns && "lost",
    cell: (c) => (
      <>
        {c.status}
        {c.onboarding && <span className="under">onboarding, {c.openSteps} to do</span>}
      </>
    ),
  }),
  text("Responsible", (c) => c.responsible, { title: (c) => c.caredForBy }),
  count("Engagements", (c) => c.engagements),
  several("To bill, net", (c) => c.unbilled),
  count("Oldest, days", (c) => c.oldestDays, { tone: (c) => c.oldestDays > 90 && "lost" }),
  ...(seesOwed
    ? [
        several<Standing>("Owed, gross", (c) => c.owed),
        several<Standing>("Late", (c) => c.late, { tone: () => "lost", cell: (c) => <Moneys of={c.late} zero="" /> }),
      ]
    : []),
  days("Last billed", (c) => c.lastBilled, {
    cell: (c) => long(c.lastBilled) || <span className="soft">never</span>,
  }),
];
