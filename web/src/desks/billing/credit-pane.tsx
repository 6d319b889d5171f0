import { Button, Checkbox, Input, Select } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useAsked, useRead } from "../../api/read";
import { Money, useMoneyText } from "../../frame/figure";
import formCss from "../../frame/form/form.module.css";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { useSettled } from "../../frame/use-settled";
import creditCss from "./credit.module.css";
import type { Invoice } from "./use-billing";

type Credited = Schema["CreditedLine"];
type Chosen = Record<number, Credited>;

/** A credit note on an issued invoice: which lines, how much of each, and whether they are billed again. */
export function CreditPane({ invoice, onDone }: { invoice: Invoice; onDone: () => void }) {
  const navigate = useNavigate();
  const money = useMoneyText();
  const path = { id: invoice.id };
  const lines = useRead("/api/invoices/{id}/creditable", { path });
  const open = (lines.data ?? []).filter((line) => line.left.minor !== 0 || line.amount.minor === 0);
  const [chosen, setChosen] = useState<Chosen>({});
  const [reason, setReason] = useState("");
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
    setChosen(next);
  };
  const problem = issue.error ?? (asked.lines.length > 0 ? preview.error : null);
  const totals = body.lines.length > 0 && !preview.error ? preview.data : undefined;
  return (
    <section className={clsx(formCss.inPlace, creditCss.creditPane)} aria-label="Credit note">
      <h2>Credit {invoice.number}</h2>
      <p>
        <Checkbox
          checked={open.length > 0 && open.every((line) => chosen[line.lineId])}
          onChange={(event) =>
            setChosen(
              event.target.checked
                ? Object.fromEntries(
                    open.map((line) => [line.lineId, { lineId: line.lineId, amount: "", again: false }]),
                  )
                : {},
            )
          }
        >
          All that is left of it
        </Checkbox>
      </p>
      <table className={tableCss.grid}>
        <thead>
          <tr>
            <th scope="col">Line</th>
            <th scope="col" className="number">
              Left of it
            </th>
            <th scope="col">Credit</th>
            <th scope="col">Then</th>
          </tr>
        </thead>
        <tbody>
          {open.map((line) => {
            const now = chosen[line.lineId];
            return (
              <tr key={line.lineId}>
                <th scope="row" className="light">
                  <Checkbox
                    checked={now !== undefined}
                    onChange={(event) =>
                      set(
                        event.target.checked ? { lineId: line.lineId, amount: "", again: false } : undefined,
                        line.lineId,
                      )
                    }
                  >
                    {line.text}
                  </Checkbox>
                </th>
                <td className="number">
                  <Money of={line.left} />
                </td>
                <td>
                  {now && (
                    <Input
                      size="small"
                      aria-label={`Credit of ${line.text}`}
                      placeholder="all of it"
                      value={now.amount}
                      onChange={(event) => set({ ...now, amount: event.target.value }, line.lineId)}
                    />
                  )}
                </td>
                <td>
                  {now && (
                    <Select
                      size="small"
                      aria-label={`What becomes of ${line.text}`}
                      value={now.again}
                      disabled={!line.mayAgain}
                      popupMatchSelectWidth={false}
                      options={[
                        { value: false, label: "a concession", title: "a concession" },
                        { value: true, label: "bill it again", title: "bill it again" },
                      ]}
                      onChange={(again) => set({ ...now, again }, line.lineId)}
                    />
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="soft">
        A concession stays billed and lowers what was earned; what is billed again becomes unbilled work.
      </p>
      <label className={creditCss.creditReason}>
        Why
        <Input value={reason} onChange={(event) => setReason(event.target.value)} placeholder="the client reads it" />
      </label>
      <Refused by={problem} />
      <p className={formCss.newActs}>
        <Button
          type="primary"
          disabled={!totals || !reason.trim()}
          loading={issue.isPending}
          onClick={() => issue.mutate()}
        >
          {totals ? `Issue a credit note over ${money(totals.total)}` : "Issue a credit note"}
        </Button>
        <Button onClick={onDone}>Not now</Button>
        {totals && (
          <span className="soft">
            {money(totals.net)} net, {money(totals.tax)} tax
          </span>
        )}
      </p>
    </section>
  );
}
