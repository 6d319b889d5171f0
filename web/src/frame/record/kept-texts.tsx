import { useAct } from "../../api/act";
import { api } from "../../api/client";
import formCss from "../form/form.module.css";
import { KeepAs } from "../keep-as";
import { Pick } from "../pick";
import { useMayChange } from "./sheet";
import { useRows } from "./use-record";

interface Props {
  label: string;
  /** What texts are offered for it, as their records say it; a new one is for the first. */
  purposes: string[];
  text: string;
  onTake: (text: string) => void;
}

/** The texts that are kept for a purpose: one is taken, or the text that is there is kept under a name. */
export function KeptTexts({ label, purposes, text, onTake }: Props) {
  const rows = useRows("proposal-texts");
  const mayKeep = useMayChange("proposal-texts");
  const keep = useAct(
    (name: string) =>
      api.post("/api/records/{kind}", {
        path: { kind: "proposal-texts" },
        body: { name, purpose: purposes[0] ?? "", text },
      }),
    { records: true },
  );
  const choices = (rows.data ?? []).filter((row) => row.cells.some((cell) => purposes.includes(cell)));
  return (
    <span className={formCss.keptTexts}>
      {choices.length > 0 && (
        <Pick<number | null>
          variant="borderless"
          label={`Template for ${label}`}
          placeholder="take a template"
          value={null}
          choices={choices.map((choice) => ({ value: choice.id, label: choice.title }))}
          onChange={async (id) => id && onTake(await textOf(id))}
        />
      )}
      {mayKeep && text.trim() !== "" && (
        <KeepAs word="keep as a template" label={`Name of the template for ${label}`} kept="Kept." act={keep} />
      )}
    </span>
  );
}

async function textOf(id: number): Promise<string> {
  const sheet = await api.get("/api/records/{kind}/{id}", { path: { kind: "proposal-texts", id } });
  return sheet.values.find((value) => value.name === "text")?.value ?? "";
}
