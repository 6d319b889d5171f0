import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { long, short } from "../../frame/days";
import { Explained } from "../../frame/explain";
import { hours, Money, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { arrangementWords, type ClientWork, type EngagementWork, findingsOf, useEntries } from "./use-wip";

/** The unbilled entries of the engagement that is open, and how its figure was made. */
export function EngagementFolio({ work, client, upTo }: { work?: EngagementWork; client?: ClientWork; upTo: string }) {
  if (!work || !client)
    return (
      <Folio label="Engagement">
        <h2>Nothing opened</h2>
        <p className="soft">Choose an engagement to see its entries, and how its figure was made.</p>
      </Folio>
    );
  return (
    <Folio label="Engagement">
      <p className="folio-over">{client.client}</p>
      <h2>{work.engagement}</h2>
      <p className="soft">
        {arrangementWords[work.arrangement]} · lead {work.lead} ·{" "}
        {work.lastBilled ? `last billed ${long(work.lastBilled)}` : "never billed"}
      </p>
      {findingsOf(work).map((finding) => (
        <p className="finding-box" key={finding.title}>
          <b>{finding.title}</b> {finding.remedy}
        </p>
      ))}
      <Entries work={work} upTo={upTo} />
    </Folio>
  );
}

/** Where what is unbilled was recorded: the entry in its week, or the purchase. */
const sourceOf = (entry: Schema["UnbilledEntry"]) =>
  entry.source === "expense"
    ? `/time/expenses/${entry.purchaseId}`
    : `/time?week=${entry.day}&person=${entry.personId}&entry=${entry.entryId}`;

function Entries({ work, upTo }: { work: EngagementWork; upTo: string }) {
  const entries = useEntries(work.engagementId, upTo);
  const money = useMoneyText();
  const rows = entries.data?.entries ?? [];
  return (
    <>
      <table className="plain">
        <tbody>
          <tr>
            <th scope="row">Standard value</th>
            <td className="number">
              <Money of={work.standard} bare />
            </td>
          </tr>
          {work.expenses.minor !== 0 && (
            <tr>
              <th scope="row">Expenses in it</th>
              <td className="number">
                <Money of={work.expenses} bare />
              </td>
            </tr>
          )}
          {work.heldEntries > 0 && (
            <tr>
              <th scope="row">On hold, not in it</th>
              <td className="number">
                <Money of={work.held} bare />
              </td>
            </tr>
          )}
          <tr className="sum-row">
            <th scope="row">To bill, net</th>
            <td className="number">
              {entries.data ? (
                <Explained step={entries.data.explanation} label="to bill">
                  {money(work.value)}
                </Explained>
              ) : (
                money(work.value)
              )}
            </td>
          </tr>
        </tbody>
      </table>
      <table className="plain entries">
        <thead>
          <tr>
            <th scope="col">Entry</th>
            <th scope="col" className="number">
              Hours
            </th>
            <th scope="col" className="number">
              Value
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((entry) => (
            <tr key={`${entry.source}-${entry.entryId || entry.purchaseId}-${entry.day}`}>
              <td>
                <Link to={sourceOf(entry)} className="quiet" title={`${entry.person}, ${entry.service}`}>
                  {short(entry.day)} · {entry.initials} · {entry.text || entry.service}
                </Link>
              </td>
              <td className="number">{hours(entry.minutes, "")}</td>
              <td className="number">
                <Explained step={entry.explanation} label={`Value of ${entry.text}`}>
                  {entry.hold
                    ? "on hold"
                    : entry.overCap
                      ? "over the cap"
                      : entry.treatment === "no_charge"
                        ? "no charge"
                        : money(entry.value, true)}
                </Explained>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
