import { Link } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Explained } from "../../frame/explain";
import { Fact, Facts } from "../../frame/facts";
import { Money, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { History } from "../../frame/history";
import { Refused } from "../../frame/state";
import { Attachments } from "./attachments";
import { type Purchase, usePurchase } from "./use-purchase";
import { billedWord } from "./words";

/** A purchase, with how its cost was shared out and its receipt. */
export function PurchaseFolio({ id }: { id: number }) {
  const purchase = usePurchase(id);
  if (!purchase.data)
    return (
      <Folio label="Purchase">
        <h2>Nothing opened</h2>
        <p className="soft">Choose an expense to see the purchase that it is a share of, and its receipt.</p>
        <Refused by={purchase.error} />
      </Folio>
    );
  const p = purchase.data;
  return (
    <Folio label="Purchase">
      <p className={deskCss.folioOver}>
        {long(p.day)}, {p.person}
      </p>
      <h2>{p.text || p.supplier || p.category}</h2>
      <p className="soft">
        {p.category}
        {p.supplier && `, ${p.supplier}`} · paid by {p.paidBy === "firm" ? "the firm" : `${p.person}, to be given back`}
      </p>
      <PurchaseSums purchase={p} />
      <Link to={`/time/expenses/${p.id}`}>{p.mayChange ? "Change it" : "Open it"}</Link>
      <Attachments key={p.id} files={p.files} readOnly words="" onChange={() => {}} />
      <History subject="purchases" id={p.id} />
    </Folio>
  );
}

function PurchaseSums({ purchase }: { purchase: Purchase }) {
  const money = useMoneyText();
  const { role } = useSession();
  return (
    <Facts>
      <Fact of="Paid">
        <Money of={purchase.amount} />
      </Fact>
      <Fact of="Tax in it, got back">{purchase.tax.minor !== 0 && <Money of={purchase.tax} />}</Fact>
      <Fact of="Cost" sum>
        <Money of={purchase.cost} />
      </Fact>
      {purchase.shares.map((share) => (
        <Fact
          key={share.id}
          of={
            <>
              {share.engagement}
              <span className="under">
                {share.engagementId ? `${share.client} · ${billedWord(share)}` : "not charged on"}
                {share.invoiceId > 0 && role !== "staff" && (
                  <>
                    {" "}
                    · <Link to={`/billing/${share.invoiceId}`}>{share.invoice || "on a draft"}</Link>
                  </>
                )}
              </span>
            </>
          }
        >
          {share.explanation && share.value ? (
            <Explained step={share.explanation} label={`share on ${share.engagement}`}>
              {money(share.value.minor ? share.value : share.cost)}
            </Explained>
          ) : (
            <Money of={share.cost} />
          )}
        </Fact>
      ))}
    </Facts>
  );
}
