import { Checkbox } from "antd";
import { useSession } from "../../api/session";
import { ChoiceField, DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Upload } from "./upload";
import { type Proposal, useProposalActs } from "./use-proposal";

/** Records an acceptance that was given elsewhere, with its evidence. */
export function RecordPane({ proposal, onDone }: { proposal: Proposal; onDone: () => void }) {
  const { today } = useSession();
  const { typed, lines } = proposal.grid;
  const form = useTyping({
    tier: Math.max(typed.suggested - 1, 0),
    options: [] as number[],
    name: proposal.contacts[0]?.name ?? "",
    day: today,
    evidence: "",
    file: { digest: "", name: "" },
  });
  const acts = useProposalActs(proposal.id);
  const { tier, options, file, ...given } = form.typed;
  const optional = lines.flatMap((line, i) => (line.cells[tier]?.state === "optional" ? [i] : []));
  // What can be chosen is of the tier.
  const ofTier = { ...form, set: ({ tier = 0 }: { tier?: number }) => form.set({ tier, options: [] }) };
  return (
    <Form
      label="Record an acceptance"
      title="Record an acceptance"
      act={acts.record}
      ok={`Record that ${proposal.number} was accepted`}
      onOk={() =>
        acts.record.mutate(
          { ...given, file, version: proposal.version, chosen: { tier, options, quantities: {} } },
          { onSuccess: onDone },
        )
      }
    >
      <p className="soft">
        Given by letter, on the phone or on paper. It makes the engagement and its plan of bills at once.
      </p>
      <ChoiceField
        of={ofTier}
        name="tier"
        label="Tier accepted"
        options={typed.tiers.map((t, i) => ({ value: i, label: t.name || `tier ${i + 1}` }))}
      />
      {optional.length > 0 && (
        <Checkbox.Group
          value={options}
          options={optional.map((i) => ({ value: i, label: typed.lines[i]?.description ?? "" }))}
          onChange={(chosen) => form.set({ options: chosen })}
        />
      )}
      <TextField of={form} name="name" label="Who accepted" />
      <DayField of={form} name="day" label="On" />
      <TextField of={form} name="evidence" label="How it is known: where the letter, mail or signed copy is" rows={2} />
      <p>
        {file.name ? `${file.name} ` : ""}
        <Upload
          id={proposal.id}
          words={file.name ? "Choose another" : "Add the letter or signed copy"}
          onKept={(kept) => form.set({ file: kept })}
        />
      </p>
    </Form>
  );
}
