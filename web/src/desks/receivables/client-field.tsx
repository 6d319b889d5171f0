import { useRead } from "../../api/read";
import { ChoiceField } from "../../frame/form/fields";
import type { Typing } from "../../frame/form/use-typing";

/** The client whose money it is. */
export function ClientField({ of }: { of: Typing<{ clientId: number }> }) {
  const clients = useRead("/api/clients").data?.clients ?? [];
  const options = clients.map((c) => ({ value: c.id, label: c.name }));
  return <ChoiceField of={of} name="clientId" label="Client" placeholder="type a name" options={options} />;
}
