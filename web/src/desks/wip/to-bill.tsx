import { type Amount, api } from "../../api/client";
import { Explained } from "../../frame/explain";
import { Money } from "../../frame/figure";
import type { daysOf } from "./use-wip";

interface Props {
  engagementId: number;
  amount: Amount;
  days: ReturnType<typeof daysOf>;
}

/** What would be billed of an engagement; how it comes about is asked when it is opened. */
export function ToBill({ engagementId, amount, days }: Props) {
  if (amount.minor === 0) return <Money of={amount} />;
  const ask = () =>
    api
      .get("/api/wip/engagements/{id}", { path: { id: engagementId }, query: days })
      .then((entries) => entries.explanation);
  return (
    <Explained label="To bill, net" step={ask}>
      <Money of={amount} />
    </Explained>
  );
}
