import { Select } from "antd";
import type { Schema } from "../../api/client";
import { Pick } from "../../frame/pick";
import recordingCss from "./recording.module.css";
import { type Treatment, useEngagement, useEngagements } from "./use-week";
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
  (choices ?? []).map((e) => {
    const label = `${e.client} › ${e.engagement}`;
    return { value: e.engagementId, label, title: label };
  });

/** Open engagements to choose from, with the one that is chosen. */
export function useOpenEngagements(chosenId?: number) {
  const open = useEngagements({ open: true });
  const chosen = useEngagement(chosenId);
  const all = open.data ?? [];
  const there = !chosen || all.some((e) => e.engagementId === chosen.engagementId);
  return { ...open, chosen, options: engagementOptions(there ? all : [...all, chosen]) };
}

/** Chooses an engagement, a service, and how it is billed. */
export function WorkFields({ choices, of, onChange, autoFocus }: Props) {
  const engagements = useOpenEngagements(of.engagementId);
  return (
    <>
      <Select
        className={recordingCss.wideChoice}
        popupMatchSelectWidth={false}
        autoFocus={autoFocus}
        defaultOpen={autoFocus && !of.engagementId}
        showSearch={engagements.search}
        placeholder="Client and engagement"
        aria-label="Engagement"
        value={of.engagementId}
        onChange={(id) =>
          onChange(
            begunOn(
              engagements.data?.find((e) => e.engagementId === id),
              of,
            ),
          )
        }
        options={engagements.options}
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
          choices={treatmentsFor(engagements.chosen?.billable ?? true, "the engagement")}
        />
      )}
    </>
  );
}
