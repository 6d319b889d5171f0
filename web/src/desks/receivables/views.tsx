import { Link, useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { useTransfers } from "./use-receivables";

const words = [
  { show: "", word: "Owed" },
  { show: "reminders", word: "Reminders" },
  { show: "calls", word: "To call" },
  { show: "cash", word: "To come" },
  { show: "bank", word: "Bank" },
  { show: "payments", word: "Payments" },
  { show: "funds", word: "Held" },
  { show: "deposits", word: "Deposits" },
  { show: "transfers", word: "Transfers" },
  { show: "late", word: "Late charges" },
  { show: "lost", word: "Bad debt" },
  { show: "journal", word: "Journal" },
];

/** Looks that are reached from another. */
const within: Record<string, string> = { reconcile: "funds", out: "transfers" };

/** The looks at receivables, beside the title of each; transfers still to make are counted. */
export function MoneyViews() {
  const [search] = useSearchParams();
  const shown = search.get("show") ?? "";
  const { role } = useSession();
  const toMake = useTransfers(false).data?.length ?? 0;
  return (
    <nav className={deskCss.views} aria-label="Receivables">
      {words
        .filter(({ show }) => show !== "journal" || role !== "lead")
        .map(({ show, word }) => (
          <Link
            key={show}
            to={show ? `/receivables?show=${show}` : "/receivables"}
            className={shown === show || within[shown] === show ? "active" : ""}
            aria-current={shown === show || within[shown] === show ? "page" : undefined}
          >
            {word}
            {show === "transfers" && toMake > 0 && `, ${toMake}`}
          </Link>
        ))}
    </nav>
  );
}
