import { Link } from "react-router";
import { useSession } from "../../api/session";
import type { Entry } from "./use-week";
import type { ExpenseLine } from "./use-work";
import { stateWord } from "./words";

/** Where an entry or an expense stands, with the way to its invoice for those who may see it. */
export function State({ of }: { of: Entry | ExpenseLine }) {
  const { role } = useSession();
  if (!of.invoiceId || role === "staff") return <span className="soft">{stateWord(of)}</span>;
  return (
    <Link to={`/billing/${of.invoiceId}`} tabIndex={-1}>
      {stateWord(of)}
    </Link>
  );
}
