import { useRead } from "../../api/read";
import { ChoiceField } from "../../frame/form/fields";
import type { Typing } from "../../frame/form/use-typing";
import { useOptions } from "../../frame/record/use-record";

/** The client whose money it is. */
export function ClientField({ of }: { of: Typing<{ clientId: number }> }) {
  const clients = useRead("/api/clients").data?.clients ?? [];
  const options = clients.map((c) => ({ value: c.id, label: c.name }));
  return <ChoiceField of={of} name="clientId" label="Client" placeholder="type a name" options={options} />;
}

/** Which of the client's engagements it is for, where that is known. */
export function EngagementField({ of }: { of: Typing<{ clientId: number; engagementId: number }> }) {
  const { clientId } = of.typed;
  const engagements = useOptions("engagements", clientId, clientId > 0).data ?? [];
  if (engagements.length === 0) return null;
  const options = [{ value: 0, label: "not said" }, ...engagements.map((e) => ({ value: e.id, label: e.title }))];
  return <ChoiceField of={of} name="engagementId" label="For the engagement" options={options} />;
}
