import { Checkbox, Select } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import deskCss from "../../frame/desk.module.css";
import tableCss from "../../frame/table.module.css";
import pricingCss from "./pricing.module.css";
import { type Proposal, useCalendar } from "./use-proposal";

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
        <Select
          variant="underlined"
          aria-label="Tier"
          value={Math.min(tier, tiers.length - 1)}
          options={tiers.map((t, i) => ({ value: i, label: t.name || `tier ${i + 1}`, title: t.name }))}
          onChange={setTier}
        />{" "}
        <Checkbox checked={everything} onChange={(event) => setEverything(event.target.checked)}>
          with every option
        </Checkbox>
      </p>
      {calendar.data && (
        <table className={clsx(tableCss.plain, pricingCss.bills)}>
          <thead>
            <tr>
              <th scope="col">Bill</th>
              <th scope="col" className="number">
                Net
              </th>
              <th scope="col" className="number">
                With tax
              </th>
            </tr>
          </thead>
          <tbody>
            {calendar.data.bills.map((bill, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: bills never move
              <tr key={at} className={bill.deposit ? "soft" : undefined}>
                <th scope="row">
                  {bill.when}
                  <span className="under">{bill.what}</span>
                </th>
                <td className="number">{bill.deposit ? "" : bill.net}</td>
                <td className="number">{bill.gross}</td>
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr className={tableCss.sumRow}>
              <th scope="row">{calendar.data.label}</th>
              <td className="number">{calendar.data.net}</td>
              <td className="number">{calendar.data.gross}</td>
            </tr>
          </tfoot>
        </table>
      )}
    </section>
  );
}
