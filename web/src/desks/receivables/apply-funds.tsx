import { Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { Do } from "../../frame/do";
import { Money, Sums, typedNumber } from "../../frame/figure";
import { Form } from "../../frame/form/form";
import { money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import { Refused } from "../../frame/state";

type Putting = Schema["Putting"];

interface Props {
  /** Whose money: one client's, or that of many. */
  clients: number[];
  onDone: () => void;
}

const keyOf = (put: Putting) => `${put.fundsId} ${put.invoiceId}`;

/** Where money that is held would go, changed as it should, done in one act and taken back in one. */
export function ApplyFunds({ clients, onDone }: Props) {
  const plan = useRead("/api/funds-plan", { query: { clients } });
  const { decimals, mark } = useSession();
  const [typed, setTyped] = useState<Record<string, string>>({});
  const apply = useAct((puts: Schema["PutTyped"][]) => api.post("/api/funds-applied", { body: { puts } }));
  const undo = useAct((act: number) => api.delete("/api/funds-applied/{act}", { path: { act } }));
  const rows = plan.data ?? [];
  const amountOf = (put: Putting) =>
    typed[keyOf(put)] ?? typedNumber(put.amount.minor, decimals[put.amount.currency] ?? 2, mark);
  const puts = rows
    .map((put) => ({ fundsId: put.fundsId, invoiceId: put.invoiceId, amount: amountOf(put).trim() }))
    .filter((put) => put.amount !== "" && put.amount !== "0");
  if (apply.data)
    return (
      <div role="status">
        <p>
          Put{" "}
          <Sums label="Put on invoices" parts={apply.data.applied.map((a) => ({ of: a.number, amount: a.amount }))} />{" "}
          on {apply.data.applied.map((a) => a.number).join(", ")}. Transfers to make stand under Transfers.
        </p>
        <p>
          <Do onClick={() => undo.mutate(apply.data.actId, { onSuccess: onDone })}>Take it back</Do>{" "}
          <Do onClick={onDone}>Close</Do>
        </p>
        <Refused by={undo.error} />
      </div>
    );
  if (plan.data && rows.length === 0)
    return (
      <p>
        Nothing that is held is free for what they owe. <Do onClick={onDone}>Close</Do>
      </p>
    );
  return (
    <Form
      label="Apply what is held"
      act={apply}
      ok={`Put it on ${puts.length} ${puts.length === 1 ? "invoice" : "invoices"}`}
      ready={puts.length > 0}
      onOk={() => apply.mutate(puts)}
      no="Leave it"
      onNo={onDone}
    >
      <h2>Where does it go?</h2>
      <Table
        label="What would be put where"
        look="entries"
        rows={rows}
        id={keyOf}
        columns={[
          text<Putting>("Invoice", (put) => put.number, {
            names: "light",
            cell: (put) => (
              <>
                <Link to={`/billing/${put.invoiceId}`}>{put.number}</Link>
                <span className="under">
                  {clients.length > 1 && put.client}
                  {put.for && `held for ${put.for}`}
                </span>
              </>
            ),
          }),
          money<Putting>("Open", (put) => put.open),
          {
            name: "Takes",
            number: true,
            cell: (put) => (
              <Input
                size="small"
                aria-label={`Put on ${put.number}`}
                value={amountOf(put)}
                onChange={(event) => setTyped({ ...typed, [keyOf(put)]: event.target.value })}
              />
            ),
          },
        ]}
      />
    </Form>
  );
}

/** Money that lies there for a client, offered where they are about to pay, or owe. */
export function HeldOffer({ held, onApply }: { held: Schema["Amount"]; onApply: () => void }) {
  if (held.minor <= 0) return null;
  return (
    <>
      <Money of={held} /> is held for them. <Do onClick={onApply}>Apply it to what they owe</Do>
    </>
  );
}
