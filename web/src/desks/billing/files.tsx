import { Button, Space } from "antd";
import { clsx } from "clsx";
import { useAct } from "../../api/act";
import { type Schema, send } from "../../api/client";
import { useRead } from "../../api/read";
import { save } from "../../api/save";
import { Menu } from "../../frame/menu";
import { Refused } from "../../frame/state";
import reviewCss from "./review.module.css";
import type { Invoice } from "./use-billing";

export type Form = Schema["FormState"]["name"];

const useForms = (invoice: Invoice) => useRead("/api/invoices/{id}/forms", { path: { id: invoice.id } });

/** The PDF of an issued invoice, and beside it every open format; what can't be said says why. */
export function Files({ invoice }: { invoice: Invoice }) {
  const forms = useForms(invoice);
  const make = useAct(async (form: string) =>
    save(await send(new Request(`/api/invoices/${invoice.id}/files/${form}`, { method: "POST" }))),
  );
  const main = ["", "failed"].includes(invoice.handed) ? "default" : "primary"; // handing it over comes first
  const others = (forms.data ?? []).filter((form) => form.name !== "pdf");
  return (
    <>
      <Refused by={make.error} inline />
      <Space.Compact>
        <Button type={main} href={`/api/invoices/${invoice.id}/document.pdf`}>
          Save the PDF
        </Button>
        <Menu
          items={others.map((form) => ({
            key: form.name,
            disabled: form.why !== "",
            label: (
              <>
                {form.label}
                {form.why && <span className={reviewCss.menuWhy}>{form.why}</span>}
              </>
            ),
          }))}
          onPick={make.mutate}
        >
          <Button type={main} loading={make.isPending} aria-label="Other formats">
            …
          </Button>
        </Menu>
      </Space.Compact>
    </>
  );
}

/** What will be inside the PDF besides its pages, or why not. */
export function Inside({ invoice }: { invoice: Invoice }) {
  const form = useForms(invoice).data?.find((f) => f.name === "cii");
  if (!form) return null;
  return form.why ? (
    <p className={reviewCss.inside}>
      <span className="lost">No e-invoice will be inside the PDF.</span> {form.why}
    </p>
  ) : (
    <p className={clsx("soft", reviewCss.inside)}>
      The PDF will have the invoice inside as structured data, too (EN 16931).
    </p>
  );
}
