import { Checkbox, Input } from "antd";
import { useState } from "react";
import { Do } from "../../frame/do";
import { readAs, Said, useSaid } from "../../frame/form/use-said";
import { Pick } from "../../frame/pick";
import { KeptTexts } from "../../frame/record/kept-texts";
import reviewCss from "./review.module.css";
import { changes, type Invoice, type useDraftActs } from "./use-billing";

type Acts = ReturnType<typeof useDraftActs>;
type Choice = Invoice["choices"][number];
type Keep = "invoice" | "engagement" | "client" | "firm";

interface Props {
  invoice: Invoice;
  acts: Acts;
  mayEdit: boolean;
  names: string[];
}

/** Choices of an invoice, changed in place. A change holds for this invoice; what it says then can be kept from now on. */
export function ChoicesPane({ invoice, acts, mayEdit, names }: Props) {
  const rows = names.flatMap((name) => invoice.choices.find((choice) => choice.name === name) ?? []);
  return (
    <dl className={reviewCss.choices}>
      {rows.map((choice) => (
        <ChoiceRow key={`${choice.name} ${choice.value}`} choice={choice} acts={acts} mayEdit={mayEdit} />
      ))}
    </dl>
  );
}

const keeps: { keep: Keep; word: string }[] = [
  { keep: "engagement", word: "the engagement" },
  { keep: "client", word: "the client" },
  { keep: "firm", word: "everybody" },
];

function ChoiceRow({ choice, acts, mayEdit }: { choice: Choice; acts: Acts; mayEdit: boolean }) {
  const [refused, setRefused] = useState("");
  const change = (value: string, keep: Keep) => {
    setRefused("");
    acts.change.mutate(changes.choose({ name: choice.name, value, keep }), { onError: (e) => setRefused(e.message) });
  };
  return (
    <div className={reviewCss.choice}>
      <dt>{choice.label}</dt>
      <dd>
        <ChoiceValue choice={choice} disabled={!mayEdit} onChange={(value) => change(value, "invoice")} />
        {refused && (
          <p className="refusal" role="alert">
            {refused}
          </p>
        )}
        <p className={reviewCss.from}>
          {choice.from !== "the default" && choice.from}
          {mayEdit && choice.from === "on this invoice only" && (
            <>
              ; from now on for{" "}
              {keeps.map(({ keep, word }, index) => (
                <span key={keep}>
                  {index > 0 && ", "}
                  <Do onClick={() => change(choice.value, keep)}>{word}</Do>
                </span>
              ))}
            </>
          )}
        </p>
      </dd>
    </div>
  );
}

/** What kept texts are for, by the choice that takes one. */
const purposeOf: Record<string, string> = {
  opening_text: "opening of an invoice",
  closing_text: "closing of an invoice",
  note_text: "note on an invoice",
};

interface ValueProps {
  choice: Choice;
  disabled: boolean;
  onChange: (value: string) => void;
}

const yesNo = [
  { value: "yes", label: "yes" },
  { value: "no", label: "no" },
];

function ChoiceValue({ choice, disabled, onChange }: ValueProps) {
  const [typed, setTyped] = useState(choice.value);
  const said = useSaid(readAs(choice.form), typed === choice.value ? "" : typed);
  const labelled = { "aria-label": choice.label, disabled };
  const commit = () => typed !== choice.value && onChange(typed);
  switch (choice.form) {
    case "choice":
    case "picture":
    case "yes_no":
      return (
        <Pick
          {...labelled}
          label={choice.label}
          value={choice.value}
          choices={choice.form === "yes_no" ? yesNo : choice.options}
          onChange={onChange}
        />
      );
    case "several":
      return (
        <Checkbox.Group
          disabled={disabled}
          options={choice.options}
          value={choice.value.split(" ")}
          onChange={(values) => onChange(values.join(" "))}
        />
      );
    case "lines":
      return (
        <>
          <Input.TextArea
            {...labelled}
            autoSize={{ minRows: 1, maxRows: 6 }}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={commit}
          />
          {!disabled && purposeOf[choice.name] && (
            <KeptTexts
              label={choice.label}
              purposes={[purposeOf[choice.name] ?? ""]}
              text={choice.value}
              onTake={onChange}
            />
          )}
        </>
      );
  }
  return (
    <>
      <Input
        {...labelled}
        size="small"
        value={typed}
        placeholder={choice.hint}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onPressEnter={commit}
        onKeyDown={(event) => event.key === "Escape" && setTyped(choice.value)}
      />
      {said && <Said {...said} />}
    </>
  );
}
