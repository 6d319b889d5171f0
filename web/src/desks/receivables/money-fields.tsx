import { ChoiceField } from "../../frame/form/fields";
import type { Typing } from "../../frame/form/use-typing";

export type Method = "transfer" | "cheque" | "cash" | "card" | "debit" | "other";

const methods: { value: Method; label: string }[] = [
  { value: "transfer", label: "bank transfer" },
  { value: "cheque", label: "cheque" },
  { value: "cash", label: "cash" },
  { value: "card", label: "card" },
  { value: "debit", label: "direct debit" },
  { value: "other", label: "another way" },
];

/** How money came. */
export function MethodField({ of }: { of: Typing<{ method: Method }> }) {
  return <ChoiceField of={of} name="method" label="By" options={methods} />;
}
