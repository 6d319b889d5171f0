import { clsx } from "clsx";
import { Link } from "react-router";
import { short } from "../../frame/days";
import { Money } from "../../frame/figure";
import { FillMark, stateWords } from "../../frame/fill-mark";
import draftListCss from "./draft-list.module.css";
import type { Summary } from "./use-billing";
import type { Run } from "./use-run";

const states = ["draft", "in_approval", "approved", "issued", "paid"] as const;

/** The drafts beside the one that is open, with what the marks mean. */
export function DraftList({ drafts, current, run }: { drafts: Summary[]; current: number; run?: Run }) {
  const count = drafts.length === 0 ? "No drafts left" : `${drafts.length} ${drafts.length === 1 ? "draft" : "drafts"}`;
  return (
    <nav className={draftListCss.draftList} aria-label="Drafts">
      {run ? (
        <>
          <h2>
            <Link to={`/billing?run=${run.id}`} className="quiet">
              {run.name}
            </Link>
          </h2>
          <p className="soft">
            up to {short(run.upTo)} · dated {short(run.dated)} · {count}
          </p>
        </>
      ) : (
        <h2>{count}</h2>
      )}
      <ul>
        {drafts.map((draft) => (
          <li key={draft.id}>
            <Link to={`/billing/${draft.id}`} aria-current={draft.id === current ? "page" : undefined}>
              <FillMark state={draft.state} />
              <span className={draftListCss.draftClient}>{draft.client}</span>
              <Money of={draft.net} />
              {draft.found > 0 && (
                <span className={draft.blocking > 0 ? clsx("lost", draftListCss.draftFound) : draftListCss.draftFound}>
                  {draft.found} to settle
                </span>
              )}
            </Link>
          </li>
        ))}
      </ul>
      <ul className={draftListCss.legend} aria-label="Marks">
        {states.map((state) => (
          <li key={state}>
            <FillMark state={state} /> {stateWords[state]}
          </li>
        ))}
      </ul>
    </nav>
  );
}
