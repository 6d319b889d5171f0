import { Checkbox, Input } from "antd";
import { useNavigate } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useAsked, useRead } from "../../api/read";
import { Money, useMoneyText } from "../../frame/figure";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Table } from "../../frame/list/table";
import { Pick } from "../../frame/pick";
import { useSettled } from "../../frame/use-settled";
import creditCss from "./credit.module.css";
import type { Invoice } from "./use-billing";

type Credited = Schema["CreditedLine"];
type Creditable = Schema["Creditable"];

/** A credit note on an issued invoice: which lines, how much of each, and whether they are billed again. */
export function CreditPane({ invoice, onDone }: { invoice: Invoice; onDone: () => void }) {
  const navigate = useNavigate();
  const money = useMoneyText();
  const path = { id: invoice.id };
  const lines = useRead("/api/invoices/{id}/creditable", { path });
  const open = (lines.data ?? []).filter((line) => line.left.minor !== 0 || line.amount.minor === 0);
  const form = useTyping({ reason: "", chosen: {} as Record<number, Credited> });
  const { reason, chosen } = form.typed;
  const body = { reason, lines: Object.values(chosen) };
  const asked = useSettled(body, 200);
  const preview = useAsked(
    "/api/invoices/{id}/credit/preview",
    { path, body: asked },
    { when: asked.lines.length > 0, keeps: true },
  );
  const issue = useAct(
    () =>
      api.post("/api/invoices/{id}/credit", {
        path,
        query: { version: invoice.version },
        body,
      }),
    {
      done: (note) => {
        onDone();
        navigate(`/billing/${note.id}`);
      },
    },
  );
  const set = (line: Credited | undefined, id: number) => {
    const next = { ...chosen };
    if (line) next[id] = line;
    else delete next[id];
    form.set({ chosen: next });
  };
  const problem = issue.error ?? (asked.lines.length > 0 ? preview.error : null);
  const totals = body.lines.length > 0 && !preview.error ? preview.data : undefined;
  const whole = (line: Creditable): Credited => ({ lineId: line.lineId, amount: "", again: false });
  return (
    <Form
      inPlace
      className={creditCss.creditPane}
      label="Credit note"
      title={`Credit ${invoice.number}`}
      act={{ ...issue, error: problem }}
      ok={totals ? `Issue a credit note over ${money(totals.total)}` : "Issue a credit note"}
      ready={Boolean(totals && reason.trim())}
      onOk={() => issue.mutate()}
      onNo={onDone}
      more={
        totals && (
          <span className="soft">
            {money(totals.net)} net, {money(totals.tax)} tax
          </span>
        )
      }
    >
      <p>
        <Checkbox
          checked={open.length > 0 && open.every((line) => chosen[line.lineId])}
          onChange={(event) =>
            form.set({ chosen: event.target.checked ? Object.fromEntries(open.map((l) => [l.lineId, whole(l)])) : {} })
          }
        >
          All that is left of it
        </Checkbox>
      </p>
      <Table
        rows={open}
        id={(line) => line.lineId}
        columns={[
          {
            name: "Line",
            names: "light",
            cell: (line) => (
              <Checkbox
                checked={chosen[line.lineId] !== undefined}
                onChange={(event) => set(event.target.checked ? whole(line) : undefined, line.lineId)}
              >
                {line.text}
              </Checkbox>
            ),
          },
          { name: "Left of it", number: true, cell: (line) => <Money of={line.left} /> },
          {
            name: "Credit",
            cell: (line) => {
              const now = chosen[line.lineId];
              return (
                now && (
                  <Input
                    size="small"
                    aria-label={`Credit of ${line.text}`}
                    placeholder="all of it"
                    value={now.amount}
                    onChange={(event) => set({ ...now, amount: event.target.value }, line.lineId)}
                  />
                )
              );
            },
          },
          {
            name: "Then",
            cell: (line) => {
              const now = chosen[line.lineId];
              return (
                now && (
                  <Pick
                    label={`What becomes of ${line.text}`}
                    value={now.again}
                    disabled={!line.mayAgain}
                    choices={[
                      { value: false, label: "a concession" },
                      { value: true, label: "bill it again" },
                    ]}
                    onChange={(again) => set({ ...now, again }, line.lineId)}
                  />
                )
              );
            },
          },
        ]}
      />
      <p className="soft">
        A concession stays billed and lowers what was earned; what is billed again becomes unbilled work.
      </p>
      <TextField of={form} name="reason" label="Why" placeholder="the client reads it" className={creditCss.reason} />
    </Form>
  );
}
