import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import { useAddress } from "../../frame/address";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Money, Moneys } from "../../frame/figure";
import { Folio, useFolio } from "../../frame/folio";
import { count, days, several, text } from "../../frame/list/columns";
import { useKept } from "../../frame/list/kept";
import { List } from "../../frame/list/list";
import { type Column, usePagedList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { SaidChoice, Sentence } from "../../frame/sentence";
import tableCss from "../../frame/table.module.css";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { useSettled } from "../../frame/use-settled";
import { useListAddress } from "../set-up/use-set-up";
import { type Standing, useClientPages } from "./use-clients";

/** Every client and how it stands. */
export function ClientsDesk() {
  const address = useListAddress();
  const mayChange = useMayChange("clients");
  const { currency, role } = useSession();
  const navigate = useNavigate();
  const folio = useFolio();
  const { search } = useAddress();
  const standing = search.get("standing") ?? "";
  const [status, industry] = [search.get("status") ?? "", search.get("kind") ?? ""];
  const [text, type] = useState(address.text);
  const [openAtFirst] = useState(address.open ?? 0);
  const order = useKept("clients").kept.order;
  const asked = {
    standing,
    status,
    industry,
    text: useSettled(text, 150),
    by: order ? (heads[order.column] ?? "") : "",
    down: order?.down ?? false,
  };
  const pages = useClientPages(asked, openAtFirst);
  const { whole } = pages;
  const among = (all: string[] = []): [string, string][] => all.map((word) => [word, word]);
  const list = usePagedList({
    name: "clients",
    columns: columns(role !== "lead"),
    id: (c: Standing) => c.id,
    of: asked,
    sorts: true,
    filter: {
      sought: text,
      setSought: (sought) => {
        type(sought);
        address.change({ text: sought || undefined });
      },
      waits: text !== asked.text || pages.waits,
    },
    sums: whole && {
      "To bill, net": <Moneys of={whole.toBill} />,
      "Owed, gross": <Moneys of={whole.open} />,
      Late: <Moneys of={whole.overdue} zero="" />,
    },
    among: whole?.among,
    place: openAtFirst ? (whole?.place ?? 0) : undefined,
    onMove: (c) => {
      address.change({ open: String(c.id), new: undefined });
      folio.turn(false);
    },
    ...pages,
  });
  const open = list.row?.id === address.open ? list.row : undefined;
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
            choices={orAll("", "any status", among(whole?.statuses))}
            onChange={(value) => address.change({ status: value || undefined })}
          />
          , of{" "}
          <SaidChoice
            label="Kind of client"
            value={industry}
            choices={orAll("", "every kind", among(whole?.industries))}
            onChange={(value) => address.change({ kind: value || undefined })}
          />
        </Sentence>
        <List
          main
          label="Clients"
          list={list}
          read={pages.read}
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
        of={pages.read}
        actions={
          mayChange && (
            <Button type="primary" onClick={() => address.change({ new: "yes", open: undefined })}>
              New client
            </Button>
          )
        }
      >
        <TallySum figure={pages.total} what="clients" />
        {whole && (
          <>
            <TallySum figure={<Money of={whole.unbilled} />} what={`to bill to all, net, in ${currency}`} />
            {role !== "lead" && <TallySum figure={<Money of={whole.owed} />} what="owed by all, gross" />}
            {role !== "lead" && (
              <TallySum lost={whole.late.minor > 0} figure={<Money of={whole.late} />} what="of it late" />
            )}
            {whole.without.length > 0 && (
              <TallySum lost figure={whole.without.join(", ")} what="left out, without a rate" />
            )}
          </>
        )}
      </Tally>
    </>
  );
}

/** By what the server orders under which head. */
const heads: Record<string, string> = {
  Status: "status",
  Responsible: "responsible",
  Engagements: "engagements",
  "To bill, net": "unbilled",
  "Oldest, days": "oldest",
  "Owed, gross": "owed",
  Late: "late",
  "Last billed": "billed",
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
