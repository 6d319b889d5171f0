import { lazy, Suspense } from "react";
import { useSearchParams } from "react-router";
import { DraftsDesk } from "./drafts-desk";

/** Read when it is opened, so that the drafts are there sooner. */
const RegisterDesk = lazy(async () => ({ default: (await import("./register-desk")).RegisterDesk }));

/** Drafts to review, by run, and the register of every invoice ever issued. */
export function BillingDesk() {
  const [search] = useSearchParams();
  if (search.get("show") !== "register") return <DraftsDesk />;
  return (
    <Suspense>
      <RegisterDesk />
    </Suspense>
  );
}
