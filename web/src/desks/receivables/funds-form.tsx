import { useSession } from "../../api/session";
import { typedNumber } from "../../frame/figure";
import { DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { ClientField } from "./client-field";
import { type Method, MethodField } from "./money-fields";
import { acts, type DepositRequest, type Payment, useMoneyAct } from "./use-receivables";

interface Props {
  /** The request that the money answers. */
  request?: DepositRequest;
  onDone: () => void;
}

/** Money that came to be held for a client: it is no income, and no invoice is paid by it yet. */
export function FundsForm({ request, onDone }: Props) {
  const { today, decimals, mark } = useSession();
  const due = request ? request.amount.minor - request.received.minor : 0;
  const form = useTyping({
    clientId: request?.clientId ?? 0,
    amount: request ? typedNumber(due, decimals[request.amount.currency] ?? 2, mark) : "",
    day: today,
    method: "transfer" as Method,
    reference: "",
  });
  const act = useMoneyAct<Payment>();
  const { typed } = form;
  const body = { ...typed, engagementId: 0, entityId: 0, requestId: request?.id ?? 0, currency: "" };
  return (
    <Form
      label="Money to hold"
      title={request ? `Money for ${request.number}` : "Money to hold"}
      act={act}
      ok={`Hold ${typed.amount}`}
      ready={Boolean(typed.clientId && typed.amount)}
      onOk={() => act.mutate(acts.hold(body), { onSuccess: onDone })}
      onNo={onDone}
    >
      {request ? <p>{request.client}</p> : <ClientField of={form} />}
      <TextField of={form} name="amount" label="Amount" as="amount" focus />
      <DayField of={form} name="day" label="Received on" />
      <MethodField of={form} />
      <TextField of={form} name="reference" label="Reference" />
    </Form>
  );
}
