import { Button, Input } from "antd";
import { useState } from "react";
import { Do } from "../../frame/do";
import { Money, useMoneyText } from "../../frame/figure";
import tableCss from "../../frame/table.module.css";
import { HandLine } from "./hand-line";
import reviewCss from "./review.module.css";
import { changes, type Invoice, type useDraftActs } from "./use-billing";

type Acts = ReturnType<typeof useDraftActs>;
type Work = Invoice["around"]["engagements"][number];

/** Fees that can stand on the draft: progress on fixed fees, charges of the plan, advances and what comes back of them. */
export function FeesPane({ invoice, acts, mayEdit }: { invoice: Invoice; acts: Acts; mayEdit: boolean }) {
  const { engagements, charges, advances } = invoice.around;
  const [advancing, setAdvancing] = useState(false);
  const fees = engagements.filter((work) => work.fee);
  return (
    <div className={reviewCss.pane}>
      {fees.map((work) => (
        <Fee key={work.id} work={work} acts={acts} mayEdit={mayEdit && work.fixed} />
      ))}
      {fees.length === 0 && <p className="soft">No engagement here has a fixed fee or a cap.</p>}
      {charges.length > 0 && (
        <table className={tableCss.grid}>
          <caption>Agreed, and not billed yet</caption>
          <tbody>
            {charges.map((charge) => (
              <tr key={charge.id}>
                <th scope="row" className="light">
                  {charge.text}
                  <span className="under">
                    {charge.when}
                    {charge.due && ", due"}
                  </span>
                </th>
                <td className="number">
                  {charge.open ? <span className="soft">when billed</span> : <Money of={charge.amount} />}
                </td>
                <td className={tableCss.lineAct}>
                  {mayEdit && (
                    <Button
                      size="small"
                      type="text"
                      aria-label={`Put on ${charge.text}`}
                      onClick={() => acts.change.mutate(changes.charge(charge.id))}
                    >
                      Put on
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {advances.length > 0 && (
        <table className={tableCss.grid}>
          <caption>Invoiced ahead, not taken back yet</caption>
          <tbody>
            {advances.map((advance) => (
              <tr key={advance.lineId}>
                <th scope="row" className="light">
                  {advance.number}
                </th>
                <td className="number">
                  <Money of={advance.left} />
                </td>
                <td className={tableCss.lineAct}>
                  {mayEdit && (
                    <Button
                      size="small"
                      type="text"
                      aria-label={`Take back ${advance.number}`}
                      onClick={() => acts.change.mutate(changes.takeBack(advance.lineId))}
                    >
                      Take back
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {mayEdit &&
        (advancing ? (
          <HandLine
            invoice={invoice}
            advance
            onSave={(typed) => acts.change.mutateAsync(changes.addLine(typed))}
            onDone={() => setAdvancing(false)}
          />
        ) : (
          <p>
            <Do onClick={() => setAdvancing(true)}>Invoice an advance</Do>{" "}
            <span className="soft">taxed now, and taken off the final bill</span>
          </p>
        ))}
    </div>
  );
}

function Fee({ work, acts, mayEdit }: { work: Work; acts: Acts; mayEdit: boolean }) {
  const money = useMoneyText();
  const [typed, setTyped] = useState("");
  const [refused, setRefused] = useState("");
  const bill = () => {
    setRefused("");
    acts.change.mutate(changes.progress(work.id, typed), {
      onSuccess: () => setTyped(""),
      onError: (e) => setRefused(e.message),
    });
  };
  return (
    <section className="fee" aria-label={work.name}>
      <h2 className="sub">{work.name}</h2>
      <p>
        {work.capped ? "Cap" : "Fee"} {work.fee && money(work.fee)}, <Money of={work.billed} zero="nothing" /> of it
        billed or on drafts
        {work.fixed && (
          <>
            . Issued fees cover time of <Money of={work.covered} zero="nothing" /> at standard:{" "}
            <span className={work.variance.minor < 0 ? "lost" : ""}>
              variance <Money of={work.variance} zero="none" />
            </span>
          </>
        )}
        .
      </p>
      {mayEdit && (
        <p className={reviewCss.feeBill}>
          <label>
            Bill{" "}
            <Input
              size="small"
              placeholder="60% or 1200.00"
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              onPressEnter={bill}
            />
          </label>
          <Button size="small" disabled={!typed} onClick={bill}>
            Bill progress
          </Button>
        </p>
      )}
      {refused && (
        <p className="refusal" role="alert">
          {refused}
        </p>
      )}
    </section>
  );
}
