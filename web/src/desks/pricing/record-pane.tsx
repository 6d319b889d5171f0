import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { useSession } from "../../api/session";
import formCss from "../../frame/form/form.module.css";
import { Refused } from "../../frame/state";
import { Upload } from "./upload";
import { type Proposal, useProposalActs } from "./use-proposal";

/** Records an acceptance that was given elsewhere, with its evidence. */
export function RecordPane({ proposal, onDone }: { proposal: Proposal; onDone: () => void }) {
  const { today } = useSession();
  const { typed, lines } = proposal.grid;
  const [tier, setTier] = useState(Math.max(typed.suggested - 1, 0));
  const [options, setOptions] = useState<number[]>([]);
  const [name, setName] = useState(proposal.contacts[0]?.name ?? "");
  const [day, setDay] = useState(today);
  const [evidence, setEvidence] = useState("");
  const [file, setFile] = useState({ digest: "", name: "" });
  const acts = useProposalActs(proposal.id);
  const optional = lines.flatMap((line, i) => (line.cells[tier]?.state === "optional" ? [i] : []));
  return (
    <section aria-label="Record an acceptance">
      <h2>Record an acceptance</h2>
      <p className="soft">
        Given by letter, on the phone or on paper. It makes the engagement and its plan of bills at once.
      </p>
      <label className={formCss.stacked}>
        Tier
        <Select
          variant="underlined"
          aria-label="Tier accepted"
          value={tier}
          options={typed.tiers.map((t, i) => ({ value: i, label: t.name || `tier ${i + 1}`, title: t.name }))}
          onChange={(chosen) => {
            setTier(chosen);
            setOptions([]);
          }}
        />
      </label>
      {optional.length > 0 && (
        <Checkbox.Group
          className={formCss.stacked}
          value={options}
          options={optional.map((i) => ({ value: i, label: typed.lines[i]?.description ?? "" }))}
          onChange={setOptions}
        />
      )}
      <label className={formCss.stacked}>
        Who accepted
        <Input variant="underlined" value={name} onChange={(event) => setName(event.target.value)} />
      </label>
      <label className={formCss.stacked}>
        On
        <Input variant="underlined" value={day} onChange={(event) => setDay(event.target.value)} />
      </label>
      <label className={formCss.stacked}>
        How it is known: where the letter, mail or signed copy is
        <Input.TextArea
          value={evidence}
          autoSize={{ minRows: 2, maxRows: 6 }}
          onChange={(event) => setEvidence(event.target.value)}
        />
      </label>
      <p>
        {file.name ? `${file.name} ` : ""}
        <Upload
          id={proposal.id}
          words={file.name ? "Choose another" : "Add the letter or signed copy"}
          onKept={setFile}
        />
      </p>
      <Refused by={acts.record.error} />
      <Button
        type="primary"
        loading={acts.record.isPending}
        onClick={() =>
          acts.record.mutate(
            { version: proposal.version, chosen: { tier, options, quantities: {} }, name, day, evidence, file },
            { onSuccess: onDone },
          )
        }
      >
        Record that {proposal.number} was accepted
      </Button>
    </section>
  );
}
