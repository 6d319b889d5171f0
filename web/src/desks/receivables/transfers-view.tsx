import { Button, Checkbox } from "antd";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Amount } from "../../api/client";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Money, Moneys, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { Refused } from "./money-fields";
import { acts, useMoneyAct, useTransfers } from "./use-receivables";
import { MoneyViews } from "./views";

/** Sums by currency, of what is chosen. */
function added(amounts: Amount[]): Amount[] {
  const sums = new Map<string, number>();
  for (const { currency, minor } of amounts) sums.set(currency, (sums.get(currency) ?? 0) + minor);
  return [...sums].map(([currency, minor]) => ({ currency, minor }));
}

/** Bank transfers between the clients' account and the firm's, to make and to tick off. */
export function TransfersView() {
  const [search, setSearch] = useSearchParams();
  const all = search.get("all") === "yes";
  const { role } = useSession();
  const money = useMoneyText();
  const transfers = useTransfers(all);
  const act = useMoneyAct<unknown>();
  const rows = transfers.data ?? [];
  const [chosen, setChosen] = useState<number[]>([]);
  const picked = rows.filter((t) => chosen.includes(t.id) && !t.done);
  const sums = added(picked.map((t) => t.amount));
  const mark = (ids: number[], made: boolean) => act.mutate(acts.mark(ids, made), { onSuccess: () => setChosen([]) });
  const administers = role === "administrator";
  return (
    <>
      <div className="desk-main">
        <div className="title-line">
          <h1>Transfers to make</h1>
          <MoneyViews />
        </div>
        <Sentence>
          From the clients’ account to the firm’s:{" "}
          <SaidChoice
            label="Which"
            value={all ? "yes" : "no"}
            choices={[
              { value: "no", label: "those still to make" },
              { value: "yes", label: "all of them" },
            ]}
            onChange={(value) => setSearch({ show: "transfers", ...(value === "yes" ? { all: "yes" } : {}) })}
          />
        </Sentence>
        {rows.length === 0 ? (
          <p className="empty">
            {transfers.isPending ? "" : "None to make. Applying money that is held for a client leaves one here."}
          </p>
        ) : (
          <section className="sheet" aria-label="Transfers">
            <table className="grid">
              <thead>
                <tr>
                  <th scope="col">Applied</th>
                  <th scope="col">Client</th>
                  <th scope="col">Invoice</th>
                  <th scope="col">Made</th>
                  <th scope="col" className="number">
                    Amount
                  </th>
                </tr>
              </thead>
              <tbody>
                {rows.map((t) => (
                  <tr key={t.id}>
                    <td className="nowrap">
                      {administers && !t.done ? (
                        <Checkbox
                          aria-label={`${t.number}, ${money(t.amount)}`}
                          checked={chosen.includes(t.id)}
                          onChange={(event) =>
                            setChosen(event.target.checked ? [...chosen, t.id] : chosen.filter((id) => id !== t.id))
                          }
                        >
                          {long(t.day)}
                        </Checkbox>
                      ) : (
                        long(t.day)
                      )}
                    </td>
                    <th scope="row" className="light">
                      {t.client}
                    </th>
                    <td>{t.number}</td>
                    <td>
                      {t.done ? (
                        <>
                          {long(t.done)}{" "}
                          {administers && (
                            <button type="button" className="link" onClick={() => mark([t.id], false)}>
                              not made
                            </button>
                          )}
                        </>
                      ) : (
                        <span className="lost">to make</span>
                      )}
                    </td>
                    <td className="number">
                      <Money of={t.amount} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        )}
        <Refused by={act.error} />
      </div>
      <Folio label="Transfers">
        <h2>Why this list</h2>
        <p>
          Money that is held for a client lies in the clients’ account. When a bill takes it, it becomes the firm’s:
          then it has to be moved at the bank, to the cent. An amount below zero goes back to the clients’ account.
        </p>
      </Folio>
      <Tally
        actions={
          administers && (
            <Button
              type="primary"
              disabled={picked.length === 0}
              loading={act.isPending}
              onClick={() =>
                mark(
                  picked.map((t) => t.id),
                  true,
                )
              }
            >
              {picked.length === 0
                ? "Mark as made"
                : `Mark ${picked.length} as made, ${sums.map((sum) => money(sum)).join(" and ")}`}
            </Button>
          )
        }
      >
        <TallySum figure={rows.filter((t) => !t.done).length} what="to make" />
        <TallySum figure={<Moneys of={added(rows.filter((t) => !t.done).map((t) => t.amount))} />} what="in all" />
      </Tally>
    </>
  );
}
