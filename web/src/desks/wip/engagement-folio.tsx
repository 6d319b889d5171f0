import { Link } from "react-router";
import { hoursSaid } from "../../api/hours";
import { useSession } from "../../api/session";
import { daysBetween, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Explained } from "../../frame/explain";
import { Fact, Facts } from "../../frame/facts";
import { Money, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { Refused } from "../../frame/state";
import { EntryList } from "./entry-list";
import { Fee } from "./fee";
import {
  arrangementWords,
  type ClientWork,
  type daysOf,
  type EngagementWork,
  useDecisions,
  useEntries,
} from "./use-wip";
import wipCss from "./wip.module.css";

interface Props {
  work?: EngagementWork;
  client?: ClientWork;
  days: ReturnType<typeof daysOf>;
  engagements: { id: number; name: string }[];
}

/** The engagement that is open: what is wrong with it, how its figure was made, and what can be decided on its work. */
export function EngagementFolio({ work, client, days, engagements }: Props) {
  const { today } = useSession();
  if (!work || !client)
    return (
      <Folio label="Engagement">
        <h2>Nothing opened</h2>
        <p className="soft">Choose an engagement to see its entries, and how its figure was made.</p>
      </Folio>
    );
  return (
    <Folio label="Engagement">
      <p className={deskCss.folioOver}>
        <Link to={`/clients/${client.clientId}`}>{client.client}</Link>
      </p>
      <h2>
        <Link to={`/engagements/${work.engagementId}`} className="quiet">
          {work.engagement}
        </Link>
      </h2>
      <p className="soft">
        {arrangementWords[work.arrangement]} · lead {work.lead} ·{" "}
        {work.lastBilled
          ? `last billed ${long(work.lastBilled)}, ${daysBetween(work.lastBilled, today)} days ago`
          : "never billed"}
      </p>
      <Warnings work={work} client={client} />
      <Opened key={work.engagementId} work={work} days={days} engagements={engagements} />
    </Folio>
  );
}

/** What is held for the client, and what is wrong. */
function Warnings({ work, client }: { work: EngagementWork; client: ClientWork }) {
  const money = useMoneyText();
  return (
    <>
      {client.funds.map((held) => (
        <p className={deskCss.noteBox} key={held.currency}>
          <b>Funds held: {money(held)}.</b> They are applied while an amount is due.
        </p>
      ))}
      {[...client.findings, ...work.findings].map((finding) => (
        <p className={deskCss.findingBox} key={finding.code}>
          <b>{finding.title}</b> {finding.remedy} {finding.to && <Link to={finding.to}>Open</Link>}
        </p>
      ))}
    </>
  );
}

function Opened({ work, days, engagements }: Omit<Props, "client"> & { work: EngagementWork }) {
  const entries = useEntries(work.engagementId, days);
  const { undo } = useDecisions();
  const money = useMoneyText();
  const { role } = useSession();
  const found = entries.data;
  const rows = [
    ["Time, agreed", work.time],
    ["Expenses", work.expenses],
    ["Charges due", work.charges],
    ["Over the cap, stays", { ...work.overCap, minor: -work.overCap.minor }],
    ["Discount, surcharge, advances", work.terms],
  ] as const;
  return (
    <>
      <Facts>
        {rows.map(([label, amount]) => (
          <Fact key={label} of={label}>
            {amount.minor !== 0 && <Money of={amount} bare />}
          </Fact>
        ))}
        <Fact of={`Behind the fee, ${hoursSaid(work.behindMinutes)} at standard`}>
          {work.behindMinutes > 0 && <Money of={work.behindFee} bare />}
        </Fact>
        <Fact of="On hold, not in it">{work.heldEntries > 0 && <Money of={work.held} bare />}</Fact>
        <Fact of="To bill, net" sum>
          {found ? (
            <Explained step={found.explanation} label="to bill">
              {money(work.value)}
            </Explained>
          ) : (
            money(work.value)
          )}
        </Fact>
      </Facts>
      {found?.fee && <Fee fee={found.fee} />}
      <EntryList
        read={entries}
        entries={found?.entries ?? []}
        charges={found?.charges ?? []}
        engagements={engagements}
        mayDecide={role !== "owner"}
      />
      {(found?.decisions ?? []).length > 0 && (
        <section aria-label="Decided">
          <h2 className="sub">Decided</h2>
          <Refused by={undo.error} />
          <ul className={wipCss.decided}>
            {found?.decisions.map((decision) => (
              <li key={`${decision.actId}-${decision.portionId}`}>
                {decision.text}: {decision.said}
                <span className="soft">
                  {decision.reason && `, ${decision.reason}`}, {decision.person}
                </span>{" "}
                {decision.mayUndo && role !== "owner" && (
                  <Do disabled={undo.isPending} onClick={() => undo.mutate(decision.actId)}>
                    Undo
                  </Do>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
