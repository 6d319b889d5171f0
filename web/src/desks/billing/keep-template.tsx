import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { KeepAs } from "../../frame/keep-as";
import type { Invoice } from "./use-billing";

/** Keeps the lines, texts and look of an invoice under a name, for others to begin with. */
export function KeepTemplate({ invoice }: { invoice: Invoice }) {
  const keep = useAct(
    (name: string) => api.post("/api/invoices/{id}/template", { path: { id: invoice.id }, body: { name } }),
    { records: true },
  );
  return (
    <KeepAs
      word="Keep it as a template"
      label="Name of the template"
      kept="Kept: a new invoice can begin with it."
      act={keep}
    />
  );
}
