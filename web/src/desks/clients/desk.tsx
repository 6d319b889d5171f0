import { Button } from "antd";
import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Money, Moneys } from "../../frame/figure";
import { Folio, useFolio } from "../../frame/folio";
import { useListKeys } from "../../frame/keys";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { SaidChoice, SaidText, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { useListAddress } from "../set-up/use-set-up";
import { type Standing, useClients } from "./use-clients";

/** Every client and how it stands. */
export function ClientsDesk() {
  const address = useListAddress();
  const clients = useClients();
  const mayChange = useMayChange("clients");
  const { currency, role } = useSession();
  const navigate = useNavigate();
  const wanted = address.text.toLowerCase();
  const rows = (clients.data?.clients ?? []).filter(
    (c) =>
      (c.active || address.inactive) &&
      `${c.name} ${c.code} ${c.responsible} ${c.caredForBy}`.toLowerCase().includes(wanted),
  );
  const open = rows.find((c) => c.id === address.open);
  return (
    <>
      <div className="desk-main">
        <h1>Clients</h1>
        <Sentence>
          Everyone you work for,{" "}
          <SaidChoice
            label="Inactive ones"
            value={address.inactive ? "yes" : "no"}
            choices={[
              { value: "no", label: "active ones" },
              { value: "yes", label: "inactive ones too" },
            ]}
            onChange={(value) => address.change({ inactive: value === "yes" ? "yes" : undefined })}
          />
          , named like{" "}
          <SaidText
            label="Named like"
            value={address.text || "anything"}
            onChange={(text) => address.change({ text })}
          />
        </Sentence>
        <ClientRows
          rows={rows}
          open={address.open}
          onOpen={(id) => address.change({ open: String(id), new: undefined })}
          onGo={(id) => navigate(`/clients/${id}`)}
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
            <p className="folio-over">{open.code}</p>
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
        actions={
          mayChange && (
            <Button type="primary" onClick={() => address.change({ new: "yes", open: undefined })}>
              New client
            </Button>
          )
        }
      >
        <TallySum figure={rows.length} what="clients" />
        {clients.data && (
          <>
            <TallySum figure={<Money of={clients.data.unbilled} />} what={`unbilled by all, net, in ${currency}`} />
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

interface RowsProps {
  rows: Standing[];
  open: number;
  onOpen: (id: number) => void;
  onGo: (id: number) => void;
}

function ClientRows({ rows, open, onOpen, onGo }: RowsProps) {
  const folio = useFolio();
  const { role } = useSession();
  const current = Math.max(
    0,
    rows.findIndex((c) => c.id === open),
  );
  const keys = useListKeys(rows, current, (at) => rows[at] && onOpen(rows[at].id), {
    Enter: (c) => onGo(c.id),
    "/": () => document.querySelector<HTMLElement>("[data-sentence] input")?.focus(),
  });
  if (rows.length === 0)
    return <p className="empty">No client of this name. Make one with “New client”: a name is enough.</p>;
  return (
    <section className="sheet" aria-label="Clients" {...keys}>
      <table className="grid">
        <thead>
          <tr>
            <th scope="col">Client</th>
            <th scope="col">Status</th>
            <th scope="col">Responsible</th>
            <th scope="col" className="number">
              Engagements
            </th>
            <th scope="col" className="number">
              Unbilled, net
            </th>
            <th scope="col" className="number">
              Oldest, days
            </th>
            {role !== "lead" && (
              <th scope="col" className="number">
                Owed, gross
              </th>
            )}
            {role !== "lead" && (
              <th scope="col" className="number">
                Late
              </th>
            )}
            <th scope="col">Last billed</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((c, index) => (
            <tr
              key={c.id}
              data-row={index}
              className={[c.id === open ? "open picked" : "", c.active ? "" : "retired"].join(" ")}
              onClick={() => {
                onOpen(c.id);
                folio.turn(false);
              }}
            >
              <th scope="row">
                <Link to={`/clients/${c.id}`} className="quiet" onClick={(event) => event.stopPropagation()}>
                  {c.name}
                </Link>
                {!c.active && <span className="beside"> inactive</span>}
              </th>
              <td className={c.warns ? "lost" : ""}>
                {c.status}
                {c.onboarding && <span className="under">onboarding, {c.openSteps} to do</span>}
              </td>
              <td title={c.caredForBy}>{c.responsible}</td>
              <td className="number">{c.engagements || "–"}</td>
              <td className="number">
                <Moneys of={c.unbilled} />
              </td>
              <td className={c.oldestDays > 90 ? "number lost" : "number"}>{c.oldestDays || "–"}</td>
              {role !== "lead" && (
                <td className="number">
                  <Moneys of={c.owed} />
                </td>
              )}
              {role !== "lead" && (
                <td className="number lost">
                  <Moneys of={c.late} zero="" />
                </td>
              )}
              <td className="nowrap">{long(c.lastBilled) || <span className="soft">never</span>}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
