import { Money } from "../../frame/figure";
import { Pick } from "../../frame/pick";
import { ChoicesPane } from "./choices-pane";
import { Instalments } from "./instalments";
import reviewCss from "./review.module.css";
import { changes, type Invoice, type useDraftActs } from "./use-billing";

interface Props {
  invoice: Invoice;
  acts: ReturnType<typeof useDraftActs>;
  mayEdit: boolean;
}

/** How the amount due is paid: terms, instalments, what is held for the client and what they have to good. */
export function PaymentPane({ invoice, acts, mayEdit }: Props) {
  const schedule = invoice.choices.find((choice) => choice.name === "schedule")?.value;
  const { schedules, held, applied, credit, owed } = invoice.around;
  return (
    <div className={reviewCss.pane}>
      {mayEdit && schedules.length > 0 && (
        <label className={reviewCss.schedules}>
          Like{" "}
          <Pick<string | null>
            label="A schedule to take"
            placeholder="choose a schedule"
            value={null}
            choices={schedules.map((s) => ({ value: s.parts, label: s.name }))}
            onChange={(value) =>
              value && acts.change.mutate(changes.choose({ name: "schedule", value, keep: "invoice" }))
            }
          />
        </label>
      )}
      <ChoicesPane invoice={invoice} acts={acts} mayEdit={mayEdit} names={["terms", "schedule"]} />
      <Instalments key={schedule} invoice={invoice} acts={acts} mayEdit={mayEdit} />
      <p className="soft">
        Held for the client: <Money of={held} zero="nothing" />
        {held.minor !== 0 && (
          <>
            , of which this invoice takes <Money of={applied} zero="nothing" />
          </>
        )}
        . Credit: <Money of={credit} zero="none" />. Owed on other invoices: <Money of={owed} zero="nothing" />.
      </p>
      <ChoicesPane
        invoice={invoice}
        acts={acts}
        mayEdit={mayEdit}
        names={[
          "use_funds",
          "funds_at_most",
          "use_credit",
          "funds_statement",
          "earlier_balance",
          "reminders",
          "late_percent",
          "late_yearly",
          "late_reference",
          "late_year",
          "late_flat",
          "late_grace",
          "page_days",
        ]}
      />
    </div>
  );
}
