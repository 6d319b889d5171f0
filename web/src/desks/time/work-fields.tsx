import { Select } from "antd";
import type { Schema } from "../../api/client";
import { Pick } from "../../frame/pick";
import recordingCss from "./recording.module.css";
import type { Treatment } from "./use-week";
import { treatmentsFor } from "./words";

/** On what somebody works, and how it is billed. */
export interface WorkOf {
  engagementId?: number;
  serviceId?: number;
  treatment: Treatment;
}

interface Props {
  choices?: Schema["Choices"];
  of: WorkOf;
  onChange: (of: WorkOf) => void;
  autoFocus?: boolean;
}

type Choice = Schema["Choice"];

/** What an engagement begins with: its service, and whether it is billable. */
export const begunOn = (choice: Choice | undefined, before: WorkOf): WorkOf => ({
  engagementId: choice?.engagementId,
  serviceId: choice?.serviceId || before.serviceId,
  treatment: choice?.billable === false ? "not_billable" : "billable",
});

export const engagementOptions = (choices: Choice[] | undefined) =>
  (choices ?? [])
    .filter((e) => e.open)
    .map((e) => {
      const label = `${e.client} › ${e.engagement}`;
      return { value: e.engagementId, label, title: label };
    });

/** Chooses an engagement, a service, and how it is billed. */
export function WorkFields({ choices, of, onChange, autoFocus }: Props) {
  return (
    <>
      <Select
        className={recordingCss.wideChoice}
        popupMatchSelectWidth={false}
        autoFocus={autoFocus}
        defaultOpen={autoFocus && !of.engagementId}
        showSearch={{ optionFilterProp: "label" }}
        placeholder="Client and engagement"
        aria-label="Engagement"
        value={of.engagementId}
        onChange={(id) =>
          onChange(
            begunOn(
              choices?.engagements.find((e) => e.engagementId === id),
              of,
            ),
          )
        }
        options={engagementOptions(choices?.engagements)}
      />
      <Select
        showSearch={{ optionFilterProp: "label" }}
        placeholder="Service"
        aria-label="Service"
        value={of.serviceId}
        onChange={(serviceId) => onChange({ ...of, serviceId })}
        options={choices?.services.map((s) => ({ value: s.id, label: s.name, title: s.name }))}
      />
      {choices?.treats !== false && (
        <Pick
          size="middle"
          label="How it is billed"
          value={of.treatment}
          onChange={(treatment) => onChange({ ...of, treatment })}
          choices={treatmentsFor(
            choices?.engagements.find((e) => e.engagementId === of.engagementId)?.billable ?? true,
            "the engagement",
          )}
        />
      )}
    </>
  );
}
