import { Checkbox } from "antd";
import { useState } from "react";
import deskCss from "../../frame/desk.module.css";
import { Table } from "../../frame/list/table";
import { Pick } from "../../frame/pick";
import pricingCss from "./pricing.module.css";
import { type Proposal, tierChoices, useCalendar } from "./use-proposal";

/** Every bill that a tier would make, with its date. */
export function BillsPane({ proposal }: { proposal: Proposal }) {
  const tiers = proposal.grid.typed.tiers;
  const [tier, setTier] = useState(Math.max(proposal.grid.typed.suggested - 1, 0));
  const [everything, setEverything] = useState(false);
  const calendar = useCalendar(proposal.id, proposal.version, Math.min(tier, tiers.length - 1), everything);
  return (
    <section aria-label="Bills">
      <p className={deskCss.folioOver}>The bills that it would make</p>
      <p>
        <Pick
          variant="underlined"
          size="middle"
          label="Tier"
          value={Math.min(tier, tiers.length - 1)}
          choices={tierChoices(tiers)}
          onChange={setTier}
        />{" "}
        <Checkbox checked={everything} onChange={(event) => setEverything(event.target.checked)}>
          with every option
        </Checkbox>
      </p>
      {calendar.data && (
        <Table
          sums
          look="plain"
          className={pricingCss.bills}
          rows={calendar.data.bills}
          id={(_, at) => at}
          tone={(bill) => bill.deposit && "soft"}
          columns={[
            {
              name: "Bill",
              names: "light",
              sum: () => calendar.data.label,
              cell: (bill) => (
                <>
                  {bill.when}
                  <span className="under">{bill.what}</span>
                </>
              ),
            },
            { name: "Net", number: true, cell: (bill) => !bill.deposit && bill.net, sum: () => calendar.data.net },
            { name: "With tax", number: true, cell: (bill) => bill.gross, sum: () => calendar.data.gross },
          ]}
        />
      )}
    </section>
  );
}
