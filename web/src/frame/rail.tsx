import { NavLink } from "react-router";
import type { Schema, Step } from "../api/client";
import { hoursSaid } from "../api/hours";
import { useRead } from "../api/read";
import { useSession } from "../api/session";
import { Explained } from "./explain";
import { useRoundText } from "./figure";
import { Me } from "./me";
import railCss from "./rail.module.css";

type Rail = Schema["Rail"];

interface Stage {
  to: string;
  word: string;
  /** What the figure is, for those who ask. */
  about: string;
  figure: string;
  how?: Step;
  fact: string;
  brick?: boolean;
}

export const useRail = () => useRead("/api/rail");

const plural = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

function useStages(rail: Rail | undefined): Stage[] {
  const round = useRoundText();
  const { role } = useSession();
  const reviewer = role !== "staff";
  const stages: (Stage | false)[] = [
    reviewer && {
      to: "/pricing",
      word: "Pricing",
      about: "First year of the proposals that are out, net; answered in the last 30 days",
      figure: rail?.pricing ? (rail.pricing.count === 0 ? "–" : round(rail.pricing.amount)) : "",
      how: rail?.pricing?.amount.explanation,
      fact: !rail?.pricing ? "" : rail.pricing.count === 0 ? "none out" : `out, ${rail.pricing.answered} answered`,
    },
    {
      to: "/time",
      word: "Time",
      about: reviewer ? "Hours worked this week" : "Your hours this week",
      figure: rail ? hoursSaid(rail.time.minutes) : "",
      fact: !rail
        ? ""
        : rail.time.missing === 0
          ? "none missing"
          : plural(rail.time.missing, "person missing", "people missing"),
    },
    reviewer && {
      to: "/wip",
      word: "Work in progress",
      about: "What drafts of everything unbilled would come to, net",
      figure: rail?.wip ? round(rail.wip.amount) : "",
      how: rail?.wip?.amount.explanation,
      fact: rail?.wip ? `oldest ${rail.wip.days} days` : "",
    },
    reviewer && {
      to: "/billing",
      word: "Billing",
      about: "Drafts still to be issued, net",
      figure: rail?.billing ? round(rail.billing.amount) : "",
      how: rail?.billing?.amount.explanation,
      fact: rail?.billing
        ? plural(rail.billing.count, "draft", "drafts") +
          (rail.billing.approved > 0 ? `, ${rail.billing.approved} approved` : "")
        : "",
    },
    reviewer &&
      role !== "lead" && {
        to: "/receivables",
        word: "Receivables",
        about: "Everything owed, gross, at the rates of today",
        figure: rail?.receivables ? round(rail.receivables.amount) : "",
        how: rail?.receivables?.amount.explanation,
        fact: rail?.receivables ? `${round(rail.receivables.late)} late` : "",
      },
  ];
  return stages.filter((stage) => stage !== false);
}

function Figure({ figure, how, word }: Stage) {
  if (!how) return <b>{figure}</b>;
  return (
    <Explained step={how} label={word}>
      <b>{figure}</b>
    </Explained>
  );
}

/** The stages of the flow of money, on top of every screen; it is the way around. */
export function StageRail({ onFind }: { onFind: () => void }) {
  const session = useSession();
  const rail = useRail();
  const stages = useStages(rail.data);
  return (
    <header className={railCss.rail}>
      <NavLink to="/" className={railCss.railName}>
        <b>dorvet</b>
        <span>{session.firm}</span>
      </NavLink>
      <nav aria-label="Stages" className={railCss.railStages}>
        {stages.map((stage) => (
          <div key={stage.to} className={railCss.railStage} title={stage.about}>
            <NavLink to={stage.to} className={railCss.railWord}>
              {stage.word}
            </NavLink>
            <span className={railCss.railFact} data-testid={`rail-${stage.to.slice(1)}`}>
              <Figure {...stage} /> {stage.fact}
            </span>
          </div>
        ))}
      </nav>
      <nav aria-label="More" className={railCss.railMore}>
        {session.role !== "staff" && (
          <>
            <NavLink to="/clients">Clients</NavLink>
            <NavLink to="/reports">Reports</NavLink>
            {session.role !== "lead" && <NavLink to="/set-up">Set-up</NavLink>}
          </>
        )}
        <button type="button" className={railCss.railFind} onClick={onFind}>
          <span>Find</span> <kbd>Ctrl K</kbd>
        </button>
        <Me />
      </nav>
    </header>
  );
}
