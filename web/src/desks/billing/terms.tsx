import { Button, Popover } from "antd";
import { useState } from "react";
import { Do } from "../../frame/do";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { changes, type Invoice, useDraftChange } from "./use-billing";

/** The terms of a draft; another value asks whether it holds for this invoice only or from now on. */
export function Terms({ invoice }: { invoice: Invoice }) {
  const act = useDraftChange(invoice);
  const [open, setOpen] = useState(false);
  const form = useTyping({ terms: "" });
  const { terms } = form.typed;
  const change = (keep: "invoice" | "client") =>
    act.mutate(changes.choose({ name: "terms", value: terms, keep }), { onSuccess: () => setOpen(false) });
  return (
    <Popover
      open={open}
      onOpenChange={(to) => {
        setOpen(to);
        form.set({ terms: "" });
        act.reset();
      }}
      afterOpenChange={(shows) => shows && document.querySelector<HTMLElement>("[aria-label='Payment terms']")?.focus()}
      trigger="click"
      destroyOnHidden
      content={
        <Form
          label="Terms"
          act={act}
          ok="This invoice only"
          ready={terms !== ""}
          onOk={() => change("invoice")}
          more={
            <Button disabled={!terms} onClick={() => change("client")}>
              From now on
            </Button>
          }
        >
          <TextField
            of={form}
            name="terms"
            label="Payment terms"
            as="terms"
            placeholder="30 days, end of month, 20th"
          />
        </Form>
      }
    >
      <Do>{invoice.terms}</Do>
    </Popover>
  );
}
