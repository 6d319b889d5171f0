import { useState } from "react";
import type { Schema } from "../../api/client";
import { Offer } from "../../client-pages/offer";
import deskCss from "../../frame/desk.module.css";
import { Refused } from "../../frame/state";
import { type Proposal, usePage } from "./use-proposal";

/** The client's page, live, beside the grid. */
export function PagePane({ proposal }: { proposal: Proposal }) {
  const [chosen, setChosen] = useState<Schema["Chosen"]>();
  const tiers = proposal.grid.typed.tiers.length;
  const fits = chosen && chosen.tier < tiers ? chosen : undefined;
  const page = usePage(proposal.id, proposal.version, fits);
  return (
    <section aria-label="As the client will see it" className="page-pane">
      <p className={deskCss.folioOver}>As the client will see it</p>
      <Refused by={page.error} />
      {page.data && <Offer page={page.data} onChoose={setChosen} small />}
    </section>
  );
}
