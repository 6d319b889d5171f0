import { Checkbox, Input } from "antd";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";
import { Pick } from "../../frame/pick";
import { KeptTexts } from "../../frame/record/kept-texts";
import { Upload } from "./upload";
import type { Fault, Grid, Proposal, Typed } from "./use-proposal";

interface Props {
  proposal: Proposal;
  typed: Typed;
  grid: Grid;
  locked: boolean;
  fault?: Fault;
  commit: (change: (now: Typed) => Typed) => void;
}

const texts: {
  name: "title" | "opening" | "terms" | "after" | "subject" | "mail";
  label: string;
  rows: number;
  purpose?: string[];
}[] = [
  { name: "title", label: "Title that the client sees", rows: 1 },
  {
    name: "opening",
    label: "Opening text",
    rows: 3,
    purpose: ["opening, for new clients", "opening, for known clients"],
  },
  { name: "terms", label: "Terms", rows: 7, purpose: ["terms"] },
  { name: "after", label: "After signing", rows: 3, purpose: ["after signing"] },
  { name: "subject", label: "Subject of the mail", rows: 1 },
  { name: "mail", label: "Mail", rows: 6, purpose: ["the mail"] },
];

/** The words of a proposal: texts with placeholders, from templates or typed. */
export function TextsPane({ proposal, typed, grid, locked, commit }: Props) {
  const set = (part: Partial<Typed>) => commit((now) => ({ ...now, ...part }));
  const found = (name: string) => grid.findings.filter((finding) => finding.where === name);
  return (
    <section aria-label="Texts" className="texts-pane">
      {texts.map(({ name, label, rows, purpose }) => (
        <div key={name} className={formCss.stacked}>
          <label htmlFor={`text-${name}`}>{label}</label>
          {purpose && !locked && (
            <KeptTexts label={label} purposes={purpose} text={typed[name]} onTake={(text) => set({ [name]: text })} />
          )}
          <Input.TextArea
            id={`text-${name}`}
            key={typed[name]}
            defaultValue={typed[name]}
            disabled={locked}
            autoSize={{ minRows: rows, maxRows: 14 }}
            onBlur={(event) => event.target.value !== typed[name] && set({ [name]: event.target.value })}
          />
          {found(name).map((finding) => (
            <span className="refusal" key={finding.sentence}>
              {finding.sentence}
            </span>
          ))}
        </div>
      ))}
      <p className="soft">
        Filled in when it is sent:{" "}
        {
          "{client} {address} {contact} {firm} {lead} {title} {number} {start} {term} {valid_until} {payment_terms} {link}"
        }
      </p>
      <div className={formCss.stacked}>
        <span>A document of terms, beside the text above</span>
        {typed.termsFile.name && (
          <p>
            <a href={`/api/proposals/${proposal.id}/files/terms`}>{typed.termsFile.name}</a>{" "}
            {!locked && <Do onClick={() => set({ termsFile: { digest: "", name: "" } })}>Take it away</Do>}
          </p>
        )}
        {!locked && <Upload id={proposal.id} words="Choose a PDF" onKept={(termsFile) => set({ termsFile })} />}
      </div>
      <div className={formCss.stacked}>
        <span>Way of paying, asked of the client</span>
        <Pick
          variant="underlined"
          size="middle"
          label="Way of paying"
          disabled={locked}
          value={typed.pays}
          choices={[
            { value: "no", label: "not asked" },
            { value: "later", label: "now or later" },
            { value: "now", label: "before accepting" },
          ]}
          onChange={(pays) => set({ pays })}
        />
        <Checkbox.Group
          disabled={locked}
          value={typed.ways}
          options={[
            { value: "card", label: "card" },
            { value: "debit", label: "bank debit" },
          ]}
          onChange={(ways) => set({ ways })}
        />
      </div>
    </section>
  );
}
