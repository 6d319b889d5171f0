import { Popover } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { Steps } from "../../frame/explain";
import explainCss from "../../frame/explain.module.css";
import tiersCss from "./tiers.module.css";
import { type Grid, type Proposal, useCalendar } from "./use-proposal";

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

function TierFigure({ proposal, tier, name, figure, label }: FigureProps) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      placement="top"
      destroyOnHidden
      content={<TotalSteps proposal={proposal} tier={tier} name={name} />}
    >
      <button
        type="button"
        className={clsx("figure", explainCss.explained)}
        data-explain
        aria-expanded={open}
        onKeyDown={(event) => event.key === "Escape" && setOpen(false)}
      >
        {figure}
        <span className="unseen">, {label}: how it was made</span>
      </button>
    </Popover>
  );
}

function TotalSteps({ proposal, tier, name }: { proposal: Proposal; tier: number; name: string }) {
  const calendar = useCalendar(proposal.id, proposal.version, tier, false);
  const step = calendar.data?.steps[name];
  if (calendar.error) return <p className="refusal">{calendar.error.message}</p>;
  return step ? <Steps of={step} /> : null;
}
