import { Button, Select } from "antd";
import { useState } from "react";
import type { Schema } from "../../api/client";
import type { RowHead } from "./use-cells";
import type { Treatment } from "./use-week";

const treatments: { value: Treatment; label: string }[] = [
  { value: "billable", label: "billable" },
  { value: "no_charge", label: "no charge" },
  { value: "not_billable", label: "not billable" },
];

/** The last line of the grid: another engagement, service and treatment. */
export function AddRow({ choices, onAdd }: { choices?: Schema["Choices"]; onAdd: (row: RowHead) => void }) {
  const [open, setOpen] = useState(false);
  const [engagementId, setEngagement] = useState<number>();
  const [serviceId, setService] = useState<number>();
  const [treatment, setTreatment] = useState<Treatment>("billable");
  const engagement = choices?.engagements.find((e) => e.engagementId === engagementId);
  const service = choices?.services.find((s) => s.id === serviceId);
  if (!open)
    return (
      <button type="button" className="link soft" onClick={() => setOpen(true)}>
        Add a row…
      </button>
    );
  const add = () => {
    if (!engagement || !service) return;
    onAdd({
      engagementId: engagement.engagementId,
      engagement: engagement.engagement,
      client: engagement.client,
      serviceId: service.id,
      service: service.name,
      treatment,
    });
    setOpen(false);
    setEngagement(undefined);
    setService(undefined);
  };
  return (
    <div className="add-row-fields">
      <Select
        className="wide-choice"
        popupMatchSelectWidth={false}
        autoFocus
        defaultOpen
        showSearch={{ optionFilterProp: "label" }}
        placeholder="Client and engagement"
        aria-label="Engagement"
        value={engagementId}
        onChange={(id) => {
          setEngagement(id);
          const chosen = choices?.engagements.find((e) => e.engagementId === id);
          setTreatment(chosen?.billable === false ? "not_billable" : "billable");
        }}
        options={choices?.engagements.map((e) => {
          const label = `${e.client} › ${e.engagement}`;
          return { value: e.engagementId, label, title: label };
        })}
      />
      <Select
        showSearch={{ optionFilterProp: "label" }}
        placeholder="Service"
        aria-label="Service"
        value={serviceId}
        onChange={setService}
        options={choices?.services.map((s) => ({ value: s.id, label: s.name, title: s.name }))}
      />
      <Select
        aria-label="How it is billed"
        value={treatment}
        onChange={setTreatment}
        options={treatments.map((t) => ({ ...t, title: t.label }))}
      />
      <Button onClick={add} disabled={!engagement || !service}>
        Add the row
      </Button>
      <Button type="text" onClick={() => setOpen(false)}>
        Cancel
      </Button>
    </div>
  );
}

export { treatments };
