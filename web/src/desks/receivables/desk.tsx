import { Link, useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import sentenceCss from "../../frame/sentence.module.css";
import { Title } from "../../frame/title";
import { BankView } from "./bank-view";
import { CallsView } from "./calls-view";
import { CashView } from "./cash-view";
import { DepositsView } from "./deposits-view";
import { FundsView } from "./funds-view";
import { JournalView } from "./journal-view";
import { LateView } from "./late-view";
import { LostView } from "./lost-view";
import { OutView } from "./out-view";
import { OwedView } from "./owed-view";
import { PaymentsView } from "./payments-view";
import { ReconcileView } from "./reconcile-view";
import { RemindersView } from "./reminders-view";
import { TransfersView } from "./transfers-view";

const views = {
  reminders: RemindersView,
  calls: CallsView,
  cash: CashView,
  bank: BankView,
  payments: PaymentsView,
  funds: FundsView,
  deposits: DepositsView,
  transfers: TransfersView,
  reconcile: ReconcileView,
  out: OutView,
  late: LateView,
  lost: LostView,
  journal: JournalView,
};

/** What is owed, and what came in: fourteen looks at the money of clients. */
export function ReceivablesDesk() {
  const { role } = useSession();
  const [search] = useSearchParams();
  if (role === "lead" || role === "staff") return <NotForThem />;
  const View = views[search.get("show") as keyof typeof views] ?? OwedView;
  return <View />;
}

/** Where a lead may come by an address that somebody sent. */
function NotForThem() {
  return (
    <div className={deskCss.deskMain}>
      <Title>Receivables</Title>
      <p className={sentenceCss.sentence}>
        What is owed, paid and held is seen by administrators and owners. What is owed on an invoice of yours stands on
        it, in the <Link to="/billing?show=register">register</Link>.
      </p>
    </div>
  );
}
