import { Button } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { hoursSaid } from "../../api/hours";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Money } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { Menu } from "../../frame/menu";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { nothingBegun, useBegin } from "../billing/use-begin";
import { AskRate } from "../set-up/ask-rate";
import { ToBill } from "../wip/to-bill";
import { Budgets } from "./budgets";
import { CopyEngagement } from "./copy";
import { Payers } from "./payers";
import { Phases } from "./phases";
import { Plan } from "./plan";
import { Rerate } from "./rerate";
import { There } from "./there";

export const useEngagement = (id: number) => useRead("/api/engagements/{id}", { path: { id } }, { when: id > 0 });

type Doing = "copy" | "rerate" | "ask" | "contact" | null;

/** One engagement: its phases and tasks, its budgets, and what was done on it. */
export function EngagementDesk() {
  const id = Number(useParams().id);
  const view = useEngagement(id);
  const { engagementWord, role, today } = useSession();
  const [doing, setDoing] = useState<Doing>(null);
  const mayChange = useMayChange("engagements");
  const navigate = useNavigate();
  const bill = useBegin();
  if (view.error) return <p className={clsx("refusal", deskCss.pageRefusal)}>{view.error.message}</p>;
  if (!view.data) return null;
  const e = view.data;
  const end = () => setDoing(null);
  return (
    <>
      <div className={clsx(deskCss.deskMain, deskCss.scrolls)}>
        <p className={deskCss.over}>
          <Link to={`/clients/${e.clientId}`}>{e.client}</Link> · {engagementWord} {e.code}
          {!e.active && " · inactive"}
          {e.proposalId > 0 && (
            <>
              {" "}
              · <Link to={`/pricing/${e.proposalId}`}>its proposal</Link>
            </>
          )}
        </p>
        <Title>{e.name}</Title>
        {doing === "copy" && <CopyEngagement engagement={e} onCancel={end} />}
        {doing === "rerate" && <Rerate engagement={e} onDone={end} />}
        {doing === "ask" && (
          <div className={formCss.inPlace}>
            <AskRate engagement={{ id: e.id, key: e.code }} />
            <Button type="text" onClick={end}>
              Close
            </Button>
          </div>
        )}
        {doing === "contact" && (
          <div className={formCss.inPlace}>
            <h2>New contact for {e.name}</h2>
            <NewRecord kind="contacts" known={{ client: e.client, engagement: e.code }} onMade={end} onCancel={end} />
          </div>
        )}
        <Budgets engagement={e} />
        <Phases engagement={e} />
        <Plan id={id} />
        <Payers engagement={e} />
        <There id={id} name={e.name} clientId={e.clientId} today={today} />
      </div>
      <Folio label="Engagement">
        <p className={deskCss.folioOver}>What was agreed, and how it is billed</p>
        <RecordSheet
          kind="engagements"
          id={id}
          open={["Engagement", "How it is billed", "Billing"]}
          onGone={() => navigate(`/clients/${e.clientId}`)}
        />
      </Folio>
      <Tally
        notice={
          bill.error ? (
            <span className="refusal">{bill.error.message}</span>
          ) : (
            <span className="soft">{e.lastBilled ? `last billed ${long(e.lastBilled)}` : "never billed"}</span>
          )
        }
        actions={
          <>
            <Button onClick={() => setDoing("ask")}>What would an hour cost?</Button>
            <Menu
              items={[
                { key: "time", label: "Record time on it" },
                { key: "expense", label: "Record an expense" },
                ...(mayChange
                  ? [
                      { key: "propose", label: "Propose more" },
                      { key: "contact", label: "Add a contact" },
                    ]
                  : []),
                ...(role === "administrator" ? [{ key: "rerate", label: "Re-rate…" }] : []),
              ]}
              onPick={(key) => {
                if (key === "time") navigate(`/time?engagement=${id}`);
                else if (key === "expense") navigate(`/time/expenses/new?engagement=${id}`);
                else if (key === "propose") navigate(`/pricing?new=yes&client=${e.clientId}`);
                else setDoing(key as Doing);
              }}
            >
              <Button>Begin</Button>
            </Menu>
            {role === "administrator" && e.active && (
              <Button
                loading={bill.isPending}
                title="A draft with everything of it that is unbilled"
                onClick={() =>
                  bill.mutate(
                    { ...nothingBegun, engagementId: id, take: "all" },
                    { onSuccess: (made) => navigate(`/billing/${made.id}`) },
                  )
                }
              >
                Bill it
              </Button>
            )}
            {mayChange && (
              <Button type="primary" onClick={() => setDoing("copy")}>
                {e.again ? `Make it again for ${long(e.again)}` : "Make another like it"}
              </Button>
            )}
          </>
        }
      >
        <TallySum figure={hoursSaid(e.minutes)} what="worked" />
        <TallySum figure={<Money of={e.worth} />} what="worth, net" />
        <TallySum figure={<Money of={e.billed} />} what="billed, net" />
        <TallySum
          figure={
            <ToBill
              engagementId={id}
              amount={e.unbilled}
              days={{ upTo: today, from: undefined, chargesUpTo: undefined }}
            />
          }
          what="can be billed"
        />
      </Tally>
    </>
  );
}
