import { useSearchParams } from "react-router";
import { DraftsDesk } from "./drafts-desk";
import { RegisterDesk } from "./register-desk";

/** Drafts to review, by run, and the register of every invoice ever issued. */
export function BillingDesk() {
  const [search] = useSearchParams();
  return search.get("show") === "register" ? <RegisterDesk /> : <DraftsDesk />;
}
