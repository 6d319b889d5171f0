import { api } from "../../api/client";
import { Explained } from "../../frame/explain";
import tiersCss from "./tiers.module.css";
import type { Grid, Proposal } from "./use-proposal";

const tones = { plain: tiersCss.totalPlain, strong: tiersCss.totalStrong, soft: tiersCss.totalSoft };

/** What the tiers come to, under the grid; each figure explains itself down to the bills. */
export function Totals({ grid, proposal, suggested }: { grid: Grid; proposal: Proposal; suggested: number }) {
  return (
    <tbody className={tiersCss.tierTotals}>
      {grid.totals.map((row) => (
        <tr key={row.name + row.label} className={tones[row.tone]}>
          <th scope="row" colSpan={2}>
            {row.label}
          </th>
          {row.figures.map((figure, tier) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a tier is its place
            <td key={tier} className={`number ${suggested === tier + 1 ? tiersCss.suggested : ""}`}>
              {figure !== "–" ? (
                <TierFigure
                  proposal={proposal}
                  tier={tier}
                  name={row.name}
                  figure={figure}
                  label={`${row.label}, ${grid.typed.tiers[tier]?.name ?? ""}`}
                />
              ) : (
                figure
              )}
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  );
}

interface FigureProps {
  proposal: Proposal;
  tier: number;
  name: string;
  figure: string;
  label: string;
}

/** A total of a version; how it comes about is asked when it is opened. */
export function TierFigure({ proposal, tier, name, figure, label }: FigureProps) {
  const query = { tier, everything: false };
  const ask = async () => {
    const { steps } = await api.get("/api/proposals/{id}/calendar", { path: { id: proposal.id }, query });
    return steps[name] ?? { label, figure };
  };
  return (
    <Explained label={label} step={ask}>
      {figure}
    </Explained>
  );
}
