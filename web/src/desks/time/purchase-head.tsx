import type { Problem, Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { rateText } from "../../frame/figure";
import { ChoiceField, DayField, TextField } from "../../frame/form/fields";
import { FieldGroup } from "../../frame/form/form";
import recordingCss from "./recording.module.css";
import type { TypedPurchase } from "./use-purchase";

interface Props {
  typed: TypedPurchase;
  choices: Schema["Choices"];
  problem: Problem | null;
  readOnly: boolean;
  onChange: (part: Partial<TypedPurchase>) => void;
}

/** What was paid: when, to whom, for what, how much, by whom. */
export function PurchaseHead(props: Props) {
  const { typed, choices, problem, readOnly, onChange } = props;
  const session = useSession();
  // A purchase is in the currency of the engagements that share it.
  const currencies = [...new Set([session.currency, ...choices.currencies])];
  const category = choices.categories.find((c) => c.id === typed.categoryId);
  const of = { typed, set: onChange };
  return (
    <FieldGroup id="purchase" problem={problem} readOnly={readOnly} className={recordingCss.purchaseHead}>
      <ChoiceField
        of={{ typed, set: (change: Partial<TypedPurchase>) => onChange({ ...change, units: "", perUnit: "" }) }}
        name="categoryId"
        label="Category"
        placeholder="What it was for"
        options={choices.categories.map((c) => ({ value: c.id, label: c.name }))}
        focus
      />
      <DayField of={of} name="day" label="Date" />
      <TextField of={of} name="supplier" label="Supplier" />
      <ChoiceField
        of={of}
        name="paidBy"
        label="Paid by"
        options={[
          { value: "firm", label: "the firm" },
          { value: "person", label: "a person, who gets it back" },
        ]}
      />
      {session.role === "administrator" && (
        <ChoiceField
          of={of}
          name="personId"
          label="Who spent it"
          options={choices.people.map((p) => ({ value: p.id, label: p.name }))}
        />
      )}
      {currencies.length > 1 && (
        <ChoiceField
          of={{ typed: { ...typed, currency: typed.currency || session.currency }, set: onChange }}
          name="currency"
          label="Currency"
          options={currencies.map((c) => ({ value: c, label: c }))}
        />
      )}
      {category?.perUnit === undefined ? (
        <>
          <TextField of={of} name="amount" label="Amount, with tax" as="amount" />
          <TextField of={of} name="tax" label="Tax in it, got back" called="Tax in it" placeholder="none" />
        </>
      ) : (
        <>
          <TextField of={of} name="units" label={`How many ${category.unit || "units"}`} called="Units" />
          <TextField
            of={of}
            name="perUnit"
            label="At, each"
            called="Price of a unit"
            placeholder={rateText(category.perUnit)}
          />
        </>
      )}
      <TextField of={of} name="text" label="Text on the invoice" className={recordingCss.two} />
      <TextField of={of} name="reference" label="Reference" />
    </FieldGroup>
  );
}
