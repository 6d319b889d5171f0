import { Input, Select } from "antd";
import { clsx } from "clsx";
import type { Problem, Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { rateText } from "../../frame/figure";
import { DayField } from "../../frame/form/day-field";
import formCss from "../../frame/form/form.module.css";
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
  const currencies = [...new Set([session.currency, ...choices.engagements.map((e) => e.currency)])];
  const category = choices.categories.find((c) => c.id === typed.categoryId);
  const field = (name: "supplier" | "text" | "reference" | "units" | "perUnit" | "amount" | "tax", label: string) => ({
    id: `purchase-${name}`,
    "aria-label": label,
    readOnly,
    variant: "underlined" as const,
    value: typed[name] ?? "",
    status: problem?.field === name ? ("error" as const) : undefined,
    onChange: (event: { target: { value: string } }) => onChange({ [name]: event.target.value }),
  });
  return (
    <div className={clsx(formCss.fields, recordingCss.purchaseHead)}>
      <label htmlFor="purchase-category">
        Category
        <Select
          id="purchase-category"
          aria-label="Category"
          variant="underlined"
          disabled={readOnly}
          autoFocus
          placeholder="What it was for"
          value={typed.categoryId || undefined}
          showSearch={{ optionFilterProp: "label" }}
          onChange={(categoryId) => onChange({ categoryId, units: "", perUnit: "" })}
          options={choices.categories.map((c) => ({ value: c.id, label: c.name, title: c.name }))}
        />
      </label>
      <label htmlFor="purchase-day">
        Date
        <DayField
          id="purchase-day"
          label="Date"
          disabled={readOnly}
          value={typed.day}
          onChange={(day) => onChange({ day })}
        />
      </label>
      <label htmlFor="purchase-supplier">
        Supplier
        <Input {...field("supplier", "Supplier")} />
      </label>
      <label htmlFor="purchase-paidBy">
        Paid by
        <Select
          id="purchase-paidBy"
          aria-label="Paid by"
          variant="underlined"
          disabled={readOnly}
          value={typed.paidBy}
          onChange={(paidBy) => onChange({ paidBy })}
          options={[
            { value: "firm", label: "the firm", title: "the firm" },
            { value: "person", label: "a person, who gets it back", title: "a person, who gets it back" },
          ]}
        />
      </label>
      {session.role === "administrator" && (
        <label htmlFor="purchase-person">
          Who spent it
          <Select
            id="purchase-person"
            aria-label="Who spent it"
            variant="underlined"
            disabled={readOnly}
            value={typed.personId}
            showSearch={{ optionFilterProp: "label" }}
            onChange={(personId) => onChange({ personId })}
            options={choices.people.map((p) => ({ value: p.id, label: p.name, title: p.name }))}
          />
        </label>
      )}
      {currencies.length > 1 && (
        <label htmlFor="purchase-currency">
          Currency
          <Select
            id="purchase-currency"
            aria-label="Currency"
            variant="underlined"
            disabled={readOnly}
            value={typed.currency || session.currency}
            onChange={(currency) => onChange({ currency })}
            options={currencies.map((c) => ({ value: c, label: c, title: c }))}
          />
        </label>
      )}
      {category?.perUnit === undefined ? (
        <>
          <label htmlFor="purchase-amount">
            Amount, with tax
            <Input {...field("amount", "Amount, with tax")} />
          </label>
          <label htmlFor="purchase-tax">
            Tax in it, got back
            <Input {...field("tax", "Tax in it")} placeholder="none" />
          </label>
        </>
      ) : (
        <>
          <label htmlFor="purchase-units">
            How many {category.unit || "units"}
            <Input {...field("units", "Units")} />
          </label>
          <label htmlFor="purchase-perUnit">
            At, each
            <Input {...field("perUnit", "Price of a unit")} placeholder={rateText(category.perUnit)} />
          </label>
        </>
      )}
      <label htmlFor="purchase-text" className={recordingCss.two}>
        Text on the invoice
        <Input {...field("text", "Text on the invoice")} />
      </label>
      <label htmlFor="purchase-reference">
        Reference
        <Input {...field("reference", "Reference")} />
      </label>
    </div>
  );
}
