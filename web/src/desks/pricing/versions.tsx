import { useRead } from "../../api/read";
import { instant } from "../../frame/days";
import { Do } from "../../frame/do";
import pricingCss from "./pricing.module.css";
import { type Proposal, useProposalActs } from "./use-proposal";

/** Earlier versions of the content; of a draft, each can be taken again. */
export function Versions({ proposal, mayChange }: { proposal: Proposal; mayChange: boolean }) {
  const acts = useProposalActs(proposal.id);
  const versions = useRead("/api/proposals/{id}/versions", { path: { id: proposal.id } });
  const rows = versions.data ?? [];
  if (rows.length < 2) return null;
  return (
    <>
      <h2 className="sub">Versions</h2>
      <ul className={pricingCss.reached}>
        {rows.map((row) => (
          <li key={row.draft}>
            Version {row.draft}, {row.words}
            <span className="under">
              {row.who}, {instant(row.at)}{" "}
              {mayChange && proposal.state === "draft" && row.draft !== proposal.draft && (
                <Do onClick={() => acts.restore.mutate({ version: proposal.version, draft: row.draft })}>
                  Take it again
                </Do>
              )}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
