import { clsx } from "clsx";
import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { hoursText } from "../../api/hours";
import { useSession } from "../../api/session";
import { daysBetween, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Title } from "../../frame/title";
import { BudgetStrip } from "./budget-strip";
import { WipViews } from "./desk";
import { ToBill } from "./to-bill";
import { useBoard } from "./use-wip";
import wipCss from "./wip.module.css";

type Row = Schema["BoardRow"];

const stages = [
  { stage: "not_started", word: "Not started", since: "opened" },
  { stage: "running", word: "Running", since: "last worked" },
  { stage: "finished", word: "Finished", since: "closed" },
  { stage: "closed", word: "Closed", since: "closed" },
] as const;

const orders: Record<string, (a: Row, b: Row) => number> = {
  budget: (a, b) => (b.budget?.share ?? -1) - (a.budget?.share ?? -1),
  unbilled: (a, b) => b.toBill.minor - a.toBill.minor,
  client: (a, b) => a.client.localeCompare(b.client),
};

/** The engagements by where they stand, with how much of what was planned is used. */
export function BoardDesk() {
  const board = useBoard();
  const { today, role } = useSession();
  const mayBill = role === "administrator";
  const [order, setOrder] = useState("budget");
  const rows = board.data ?? [];
  return (
    <div className={clsx(deskCss.deskMain, deskCss.wide)}>
      <Title views={<WipViews />}>Where the engagements stand</Title>
      <Sentence>
        All engagements,{" "}
        <SaidChoice
          label="Order"
          value={order}
          choices={[
            { value: "budget", label: "the most used budget or fee first" },
            { value: "unbilled", label: "the most to bill first" },
            { value: "client", label: "by client" },
          ]}
          onChange={setOrder}
        />
      </Sentence>
      <div className={wipCss.board}>
        {stages.map(({ stage, word, since }) => {
          const own = rows.filter((row) => row.stage === stage).sort(orders[order]);
          return (
            <section key={stage} aria-label={word}>
              <h2>
                {word} <span className="soft">{own.length}</span>
              </h2>
              {own.length === 0 && <p className="soft">None.</p>}
              <ul>
                {own.map((row) => (
                  <li key={row.engagementId}>
                    <Link to={`/engagements/${row.engagementId}`} className="quiet">
                      {row.engagement}
                    </Link>
                    <span className={clsx("soft", wipCss.boardClient)}>{row.client}</span>
                    <span className={wipCss.boardFacts}>
                      <span
                        className={stage === "not_started" && daysBetween(row.since, today) > 30 ? "lost" : "soft"}
                        title={`${since} ${long(row.since)}`}
                      >
                        {stage === "not_started"
                          ? `${since} ${daysBetween(row.since, today)} days ago`
                          : `${hoursText(row.minutes)}${row.expected ? ` of ${hoursText(row.expected)}` : ""}\u202fh`}
                      </span>
                      {row.budget && <BudgetStrip budget={row.budget} />}
                      {row.toBill.minor !== 0 && (
                        <span className={stage === "finished" ? "lost" : ""}>
                          <ToBill
                            engagementId={row.engagementId}
                            amount={row.toBill}
                            days={{ upTo: today, from: undefined, chargesUpTo: undefined }}
                          />
                          {stage === "finished" && mayBill && (
                            <>
                              {" "}
                              <Link to={`/billing/new?client=${row.clientId}`}>Last bill</Link>
                            </>
                          )}
                        </span>
                      )}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          );
        })}
      </div>
    </div>
  );
}
