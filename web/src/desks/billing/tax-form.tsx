import { ChoiceField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import wipCss from "../wip/wip.module.css";
import { changes, type Invoice, type Line, useDraftChange } from "./use-billing";

interface Props {
  invoice: Invoice;
  lines: Line[];
  onClose: () => void;
}

/** Another tax for lines of a draft, and why. */
export function TaxForm({ invoice, lines, onClose }: Props) {
  const form = useTyping({ taxCode: lines[0]?.taxCode ?? "", reason: "" });
  const change = useDraftChange(invoice);
  const save = () =>
    change.mutate(changes.tax({ lineIds: [...new Set(lines.map((line) => line.lineId))], ...form.typed }), {
      onSuccess: onClose,
    });
  return (
    <Form className={wipCss.decide} label="Tax" act={change} ok="Tax it so" onOk={save} no="Leave it" onNo={onClose}>
      <p>
        <b>Tax</b> <span className="soft">{lines.length === 1 ? lines[0]?.text : `of ${lines.length} lines`}</span>
      </p>
      <ChoiceField of={form} name="taxCode" label="Tax" options={taxOptions(invoice.around.taxCodes)} focus />
      <TextField of={form} name="reason" label="Why" />
    </Form>
  );
}

/** Tax codes by their names, the code behind. */
export const taxOptions = (codes: { code: string; name: string }[]) =>
  codes.map(({ code, name }) => ({ value: code, label: `${name} · ${code}` }));
