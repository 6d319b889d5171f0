import { useSearchParams } from "react-router";
import { DepositsView } from "./deposits-view";
import { FundsView } from "./funds-view";
import { JournalView } from "./journal-view";
import { OwedView } from "./owed-view";
import { PaymentsView } from "./payments-view";
import { TransfersView } from "./transfers-view";

const views = {
  payments: PaymentsView,
  funds: FundsView,
  deposits: DepositsView,
  transfers: TransfersView,
  journal: JournalView,
};

/** What is owed, and what came in: six looks at the money of clients. */
export function ReceivablesDesk() {
  const [search] = useSearchParams();
  const View = views[search.get("show") as keyof typeof views] ?? OwedView;
  return <View />;
}
