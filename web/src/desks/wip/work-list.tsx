import { Checkbox } from "antd";
import { useState } from "react";
import type { Amount } from "../../api/client";
import { long, short } from "../../frame/days";
import { openExplanation } from "../../frame/explain";
import { hours, Money, Moneys, useMoneyText } from "../../frame/figure";
import { useFolio } from "../../frame/folio";
import { useListKeys } from "../../frame/keys";
import { AgeStrip } from "./age-strip";
import { BudgetStrip } from "./budget-strip";
import { arrangementWords, type ClientWork, type EngagementWork, type Part, type WipAddress } from "./use-wip";

/** A row of the list: a client, or one of its engagements. */
export interface Row {
  client: ClientWork;
  work?: EngagementWork;
}

export const rowsOf = (clients: ClientWork[]): Row[] =>
  clients.flatMap((client) => [{ client }, ...client.engagements.map((work) => ({ client, work }))]);

const idsOf = (row: Row) => (row.work ? [row.work.engagementId] : row.client.engagements.map((e) => e.engagementId));

interface Props {
  rows: Row[];
  totals: Amount[];
  minutes: number;
  address: WipAddress;
  picked: Set<number>;
  mayPick: boolean;
  onMake: () => void;
}

/** Clients with their engagements under them, each with what it would bill. */
export function WorkList({ rows, totals, minutes, address, picked, mayPick, onMake }: Props) {
  const [current, setCurrent] = useState(0);
  const folio = useFolio();
  const openRow = (row: Row) => address.change({ open: String(idsOf(row)[0] ?? 0) });
  const leave = (part: Part) => (row: Row) => mayPick && row.work && address.leave(row.work.engagementId, part);
  const keys = useListKeys(rows, current, setCurrent, {
    x: (row) => mayPick && address.toggle(idsOf(row)),
    Enter: (row) => {
      openRow(row);
      folio.turn(true);
    },
    "=": (row) => {
      openRow(row);
      setTimeout(() => openExplanation(document.querySelector(".folio")), 150);
    },
    "/": () => document.querySelector<HTMLElement>("[data-sentence] input")?.focus(),
    d: onMake,
    t: leave("time"),
    e: leave("expenses"),
    c: leave("charges"),
    s: (row) => mayPick && address.mix(row.client.combined, idsOf(row)),
    f: (row) => {
      const from = rows.indexOf(row) + 1;
      const next = [...rows.slice(from), ...rows.slice(0, from)].find((r) => findingsIn(r) > 0);
      if (!next) return;
      setCurrent(rows.indexOf(next));
      openRow(next);
    },
  });
  const all = rows.flatMap((row) => (row.work ? idsOf(row) : []));
  if (rows.length === 0)
    return <p className="empty">Nothing is unbilled here. Choose a later day or other filters, or record some time.</p>;
  return (
    <section className="sheet" aria-label="Unbilled work" {...keys}>
      <table className="grid wip">
        <thead>
          <tr>
            <th scope="col" className="box">
              {mayPick && <Box label="Everything" ids={all} picked={picked} onToggle={address.toggle} />}
            </th>
            <th scope="col">Client and engagement</th>
            <th scope="col">Arrangement</th>
            <th scope="col">Billed</th>
            <th scope="col">Oldest, days</th>
            <th scope="col" className="number">
              Hours
            </th>
            <th scope="col" className="number">
              Time
            </th>
            <th scope="col" className="number">
              Expenses
            </th>
            <th scope="col" className="number">
              Charges
            </th>
            <th scope="col">Budget</th>
            <th scope="col" className="number">
              To bill, net
            </th>
            <th scope="col" className="number" title="Findings">
              <span aria-hidden>!</span>
              <span className="unseen">Findings</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <WorkRow
              key={row.work ? `e${row.work.engagementId}` : `c${row.client.clientId}`}
              row={row}
              index={index}
              current={index === current}
              address={address}
              mayPick={mayPick}
              picked={picked}
              onClick={() => {
                setCurrent(index);
                openRow(row);
              }}
            />
          ))}
        </tbody>
        <tfoot>
          <tr>
            <td />
            <th scope="row" colSpan={4}>
              Everything
            </th>
            <td className="number">{hours(minutes)}</td>
            <td colSpan={4} />
            <td className="number">
              <Moneys of={totals} />
            </td>
            <td />
          </tr>
        </tfoot>
      </table>
    </section>
  );
}

const findingsIn = ({ client, work }: Row) => (work ? work.findings.length : client.findings.length);

interface BoxProps {
  label: string;
  ids: number[];
  picked: Set<number>;
  onToggle: (ids: number[]) => void;
}

function Box({ label, ids, picked, onToggle }: BoxProps) {
  const count = ids.filter((id) => picked.has(id)).length;
  return (
    <Checkbox
      aria-label={`Select ${label}`}
      checked={count > 0 && count === ids.length}
      indeterminate={count > 0 && count < ids.length}
      onChange={() => onToggle(ids)}
      onClick={(event) => event.stopPropagation()}
    />
  );
}

interface WorkRowProps {
  row: Row;
  index: number;
  current: boolean;
  address: WipAddress;
  mayPick: boolean;
  picked: Set<number>;
  onClick: () => void;
}

function WorkRow({ row, index, current, address, mayPick, picked, onClick }: WorkRowProps) {
  const { client, work } = row;
  const ids = idsOf(row);
  const chosen = ids.some((id) => picked.has(id));
  const classes = [
    work ? "" : "of-client",
    chosen ? "picked" : "",
    current ? "current" : "",
    work?.engagementId === address.open ? "open" : "",
  ].join(" ");
  return (
    <tr data-row={index} className={classes} onClick={onClick}>
      <td className="box">
        {mayPick && (
          <Box label={work?.engagement ?? client.client} ids={ids} picked={picked} onToggle={address.toggle} />
        )}
      </td>
      {work ? (
        <WorkCells work={work} address={address} mayPick={mayPick && chosen} />
      ) : (
        <ClientCells client={client} address={address} mayPick={mayPick && chosen} />
      )}
      <td className="number lost">{findingsIn(row) || ""}</td>
    </tr>
  );
}

/** How an engagement is billed, with its fee or cap. */
function useArrangement() {
  const money = useMoneyText();
  return (work: EngagementWork) => {
    const words = arrangementWords[work.arrangement];
    if (!work.fee) return words;
    const fee = money(work.fee, true).replace(/\.00$/, "");
    if (work.arrangement === "capped") return `Hourly, cap ${fee}`;
    return `${words} ${fee}${work.feePeriod ? ` / ${work.feePeriod}` : ""}`;
  };
}

function WorkCells({ work, address, mayPick }: { work: EngagementWork; address: WipAddress; mayPick: boolean }) {
  const arrangement = useArrangement();
  const own = { work, address, mayPick };
  return (
    <>
      <td className="indented" title={work.engagement}>
        {work.engagement}
        {address.members.has(work.engagementId) && <span className="soft"> · in the run</span>}
      </td>
      <td className="soft" title={arrangement(work)}>
        {arrangement(work)}
      </td>
      <td className="soft" title={work.lastBilled ? `Last billed ${long(work.lastBilled)}` : "Never billed"}>
        {short(work.lastBilled) || "never"}
      </td>
      <td>
        <AgeStrip ages={work.ages} oldest={work.oldest} />
      </td>
      <td className="number">{hours(work.minutes)}</td>
      <td className="number">
        {work.time.minor === 0 && work.covered ? (
          <span className="soft">covered</span>
        ) : (
          <Leavable part="time" amount={work.time} {...own} />
        )}
      </td>
      <td className="number">
        <Leavable part="expenses" amount={work.expenses} {...own} />
      </td>
      <td className="number">
        <Leavable part="charges" amount={work.charges} {...own} />
      </td>
      <td>
        <BudgetStrip budget={work.budget} />
      </td>
      <td className="number">
        <Money of={work.value} />
      </td>
    </>
  );
}

interface LeavableProps {
  work: EngagementWork;
  part: Part;
  amount: Amount;
  address: WipAddress;
  mayPick: boolean;
}

/** An amount that can be left out of the bill by itself. */
function Leavable({ work, part, amount, address, mayPick }: LeavableProps) {
  const left = address.left[part].has(work.engagementId);
  if (!mayPick || amount.minor === 0) return <Money of={amount} bare />;
  return (
    <button
      type="button"
      aria-pressed={!left}
      className={left ? "leavable left" : "leavable"}
      tabIndex={-1}
      title={left ? `Take the ${part}` : `Leave the ${part} unbilled`}
      onClick={(event) => {
        event.stopPropagation();
        address.leave(work.engagementId, part);
      }}
    >
      <Money of={amount} bare />
      <span className="unseen"> {part}</span>
    </button>
  );
}

function ClientCells({ client, address, mayPick }: { client: ClientWork; address: WipAddress; mayPick: boolean }) {
  const money = useMoneyText();
  const ids = client.engagements.map((e) => e.engagementId);
  const mixed = ids.some((id) => (client.combined ? address.apart : address.together).has(id));
  const combined = client.combined !== mixed;
  const words = combined ? `one invoice for ${ids.length}` : "separate invoices";
  return (
    <>
      <th scope="row">{client.client}</th>
      <td className="soft" colSpan={8}>
        {ids.length > 1 &&
          (mayPick ? (
            <button
              type="button"
              className="link"
              tabIndex={-1}
              title={combined ? "Bill each by itself, this time" : "Bill them on one invoice, this time"}
              onClick={(event) => {
                event.stopPropagation();
                address.mix(client.combined, ids);
              }}
            >
              {words}
            </button>
          ) : (
            words
          ))}
        {client.funds.length > 0 && (
          <span>
            {ids.length > 1 ? " · " : ""}funds held {client.funds.map((held) => money(held)).join(", ")}
          </span>
        )}
        {client.findings.map((finding) => (
          <span key={finding.code} className="lost">
            {" "}
            {finding.title.toLowerCase().replace(/\.$/, "")}
          </span>
        ))}
      </td>
      <td className="number">
        <Moneys of={client.values} />
      </td>
    </>
  );
}
