import { Input } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { Do } from "../../frame/do";
import { Refused } from "../../frame/state";
import type { Invoice } from "./use-billing";

/** Keeps the lines, texts and look of an invoice under a name, for others to begin with. */
export function KeepTemplate({ invoice }: { invoice: Invoice }) {
  const keep = useAct(
    (name: string) => api.post("/api/invoices/{id}/template", { path: { id: invoice.id }, body: { name } }),
    { records: true },
  );
  const [name, setName] = useState<string>();
  if (keep.isSuccess) return <span className="soft">Kept: a new invoice can begin with it.</span>;
  if (name === undefined) return <Do onClick={() => setName("")}>Keep it as a template</Do>;
  return (
    <span>
      <Input
        autoFocus
        size="small"
        style={{ width: 200 }}
        aria-label="Name of the template"
        placeholder="under which name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onPressEnter={() => keep.mutate(name)}
        onKeyDown={(event) => event.key === "Escape" && setName(undefined)}
      />
      <Refused by={keep.error} inline />
    </span>
  );
}
