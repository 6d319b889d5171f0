import { Button } from "antd";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import recordingCss from "./recording.module.css";
import type { RowHead } from "./use-cells";
import { useEngagement } from "./use-week";
import { WorkFields, type WorkOf } from "./work-fields";

/** The last line of the grid: another engagement, service and treatment. */
export function AddRow({ choices, onAdd }: { choices?: Schema["Choices"]; onAdd: (row: RowHead) => void }) {
  // Who comes from an engagement goes on with it.
  const [search] = useSearchParams();
  const begun = Number(search.get("engagement") ?? 0);
  const [of, setOf] = useState<WorkOf | null>(begun ? { engagementId: begun, treatment: "billable" } : null);
  const engagement = useEngagement(of?.engagementId);
  const service = choices?.services.find((s) => s.id === of?.serviceId);
  if (!of)
    return (
      <button type="button" className="link soft" onClick={() => setOf({ treatment: "billable" })}>
        Add a row…
      </button>
    );
  const add = () => {
    if (!engagement || !service) return;
    const covered = of.treatment === "billable" && ["fixed", "recurring"].includes(engagement.arrangement);
    onAdd({
      engagementId: engagement.engagementId,
      engagement: engagement.engagement,
      client: engagement.client,
      serviceId: service.id,
      service: service.name,
      treatment: of.treatment,
      covered,
    });
    setOf(null);
  };
  return (
    <div className={recordingCss.addRowFields}>
      <WorkFields choices={choices} of={of} onChange={setOf} autoFocus />
      <Button onClick={add} disabled={!engagement || !service}>
        Add the row
      </Button>
      <Button type="text" onClick={() => setOf(null)}>
        Cancel
      </Button>
    </div>
  );
}
