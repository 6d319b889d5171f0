import { Button } from "antd";
import { Link, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Sums, summed, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { money as amounts, days, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { acts, useMoneyAct, useTransfers } from "./use-receivables";
import { MoneyViews } from "./views";

type Transfer = Schema["Transfer"];

const columns = (administers: boolean, unmake: (id: number) => void): Column<Transfer>[] => [
  days("Applied", (t) => t.day),
  text("Client", (t) => t.client, { names: "light" }),
  text("Invoice", (t) => t.number),
  text("Made", (t) => t.done ?? "", {
    cell: (t) =>
      t.done ? (
        <>
          {long(t.done)} {administers && <Do onClick={() => unmake(t.id)}>not made</Do>}
        </>
      ) : (
        <span className="lost">to make</span>
      ),
  }),
  amounts("Amount", (t) => t.amount),
];

/** Bank transfers between the clients' account and the firm's, to make and to tick off. */
export function TransfersView() {
  const [search, setSearch] = useSearchParams();
  const all = search.get("all") === "yes";
  const { role } = useSession();
  const money = useMoneyText();
  const transfers = useTransfers(all);
  const act = useMoneyAct<unknown>();
  const administers = role === "administrator";
  const mark = (ids: number[], made: boolean) => act.mutate(acts.mark(ids, made), { onSuccess: () => list.forget() });
  const rows = transfers.data ?? [];
  const list = useList({
    name: "transfers",
    rows,
    columns: columns(administers, (id) => mark([id], false)),
    id: (t) => t.id,
    text: (t) => `${t.client} ${t.number}`,
  });
  const picked = list.chosen.filter((t) => !t.done);
  const sums = summed(picked.map((t) => t.amount));
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<MoneyViews />}>Transfers to make</Title>
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
          ; <Link to="/receivables?show=out">pay out</Link> what is to leave the bank: these, refunds, what people laid
          out
        </Sentence>
        <List
          main
          label="Transfers"
          list={list}
          read={transfers}
          choice={administers ? list.chooses((t) => `${t.number}, ${money(t.amount)}`) : undefined}
          empty={<p>None to make. Applying money that is held for a client leaves one here.</p>}
        />
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
        of={transfers}
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
        <TallySum
          figure={
            <Sums
              label="To make"
              parts={rows.filter((t) => !t.done).map((t) => ({ of: `${t.client}, ${t.number}`, amount: t.amount }))}
            />
          }
          what="in all"
        />
      </Tally>
    </>
  );
}
