import { ChoiceField } from "../../frame/form/fields";
import type { Typing } from "../../frame/form/use-typing";
import { useOptions } from "../../frame/record/use-record";

/** The client whose money it is. */
export function ClientField({ of }: { of: Typing<{ clientId: number }> }) {
  const clients = useOptions("clients", { has: of.typed.clientId ? String(of.typed.clientId) : "" });
  const options = (clients.data ?? []).map((c) => ({ value: c.id, label: c.title }));
  return (
    <ChoiceField
      of={of}
      name="clientId"
      label="Client"
      placeholder="type a name"
      options={options}
      search={clients.search}
    />
  );
}

/** Which of the client's engagements it is for, where that is known. */
export function EngagementField({ of }: { of: Typing<{ clientId: number; engagementId: number }> }) {
  const { clientId } = of.typed;
  const engagements = useOptions("engagements", { of: clientId, when: clientId > 0 }).data ?? [];
  if (engagements.length === 0) return null;
  const options = [{ value: 0, label: "not said" }, ...engagements.map((e) => ({ value: e.id, label: e.title }))];
  return <ChoiceField of={of} name="engagementId" label="For the engagement" options={options} />;
}
