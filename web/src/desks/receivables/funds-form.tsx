import { Button } from "antd";
import { useState } from "react";
import { useSession } from "../../api/session";
import { typedNumber } from "../../frame/figure";
import formCss from "../../frame/form/form.module.css";
import { Refused } from "../../frame/state";
import { ClientField } from "./client-field";
import { type Method, MethodField, TextField } from "./money-fields";
import { acts, type DepositRequest, type Payment, useMoneyAct } from "./use-receivables";

interface Props {
  /** The request that the money answers. */
  request?: DepositRequest;
  onDone: () => void;
}

/** Money that came to be held for a client: it is no income, and no invoice is paid by it yet. */
export function FundsForm({ request, onDone }: Props) {
  const { today, decimals, mark } = useSession();
  const [client, setClient] = useState(request?.clientId ?? 0);
  const due = request ? request.amount.minor - request.received.minor : 0;
  const [amount, setAmount] = useState(request ? typedNumber(due, decimals[request.amount.currency] ?? 2, mark) : "");
  const [day, setDay] = useState(today);
  const [method, setMethod] = useState<Method>("transfer");
  const [reference, setReference] = useState("");
  const act = useMoneyAct<Payment>();
  const save = () =>
    act.mutate(
      acts.hold({
        clientId: client,
        engagementId: 0,
        entityId: 0,
        requestId: request?.id ?? 0,
        currency: "",
        day,
        amount,
        method,
        reference,
      }),
      { onSuccess: onDone },
    );
  return (
    <section className={formCss.newRecord} aria-label="Money to hold">
      <h2>{request ? `Money for ${request.number}` : "Money to hold"}</h2>
      {request ? <p>{request.client}</p> : <ClientField value={client} onChange={setClient} />}
      <TextField label="Amount" value={amount} focus onChange={setAmount} onEnter={save} />
      <TextField label="Received on" value={day} onChange={setDay} onEnter={save} />
      <MethodField value={method} onChange={setMethod} />
      <TextField label="Reference" value={reference} onChange={setReference} onEnter={save} />
      <Refused by={act.error} />
      <p className={formCss.newActs}>
        <Button type="primary" disabled={!client || !amount} loading={act.isPending} onClick={save}>
          Hold {amount}
        </Button>
        <Button onClick={onDone}>Not now</Button>
      </p>
    </section>
  );
}
