import { DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { useHold } from "./use-reminding";

interface Props {
  title: string;
  client: number;
  /** 0: all of the client. */
  invoice: number;
  onDone: () => void;
}

/** Leaves a client or an invoice alone, with a reason, until a day or until it is lifted. */
export function HoldForm({ title, client, invoice, onDone }: Props) {
  const hold = useHold();
  const form = useTyping({ reason: "", until: "" });
  const { reason, until } = form.typed;
  return (
    <Form
      inPlace
      label="Leave alone"
      title={title}
      act={hold}
      ok="Leave it alone"
      ready={reason.trim() !== ""}
      onOk={() =>
        hold.mutate(
          { clientId: client, invoiceId: invoice, reason, ...(until ? { until } : {}) },
          { onSuccess: onDone },
        )
      }
      onNo={onDone}
    >
      <TextField of={form} name="reason" label="Why" wide focus />
      <DayField of={form} name="until" label="Until" any="until it is lifted" />
    </Form>
  );
}
