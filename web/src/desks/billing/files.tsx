import { Button, Space } from "antd";
import { clsx } from "clsx";
import { useAct } from "../../api/act";
import { Problem, type Schema, send } from "../../api/client";
import { useRead } from "../../api/read";
import { Menu } from "../../frame/menu";
import { Refused } from "../../frame/state";
import reviewCss from "./review.module.css";
import type { Invoice } from "./use-billing";

export type Form = Schema["FormState"]["name"];

const useForms = (invoice: Invoice) => useRead("/api/invoices/{id}/forms", { path: { id: invoice.id } });

/** Gives a file of the server's to whoever asked for it, under its name. */
async function save(answer: Response) {
  if (!answer.ok) {
    const said = await answer.json().catch(() => null);
    throw new Problem(answer.status, said?.detail ?? "The file can't be made. Load the page again.");
  }
  const said = answer.headers.get("Content-Disposition") ?? "";
  const coded = /filename\*=utf-8''([^;]+)/i.exec(said)?.[1]; // a name with letters beyond ASCII: RFC 6266
  const name = coded ? decodeURIComponent(coded) : /filename="?([^";]+)"?/.exec(said)?.[1];
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await answer.blob());
  link.download = name ?? "invoice";
  link.click();
  URL.revokeObjectURL(link.href);
}

/** The PDF of an issued invoice, and beside it every open format; what can't be said says why. */
export function Files({ invoice }: { invoice: Invoice }) {
  const forms = useForms(invoice);
  const make = useAct(async (form: string) =>
    save(await send(new Request(`/api/invoices/${invoice.id}/files/${form}`, { method: "POST" }))),
  );
  const others = (forms.data ?? []).filter((form) => form.name !== "pdf");
  return (
    <>
      <Refused by={make.error} inline />
      <Space.Compact>
        <Button type="primary" href={`/api/invoices/${invoice.id}/document.pdf`}>
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
          <Button type="primary" loading={make.isPending} aria-label="Other formats">
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
