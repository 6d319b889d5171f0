import { clsx } from "clsx";
import type { ReactNode } from "react";
import type { Amount } from "../../api/client";
import { long, short } from "../../frame/days";
import { Do } from "../../frame/do";
import { openExplanation } from "../../frame/explain";
import { hours, Money, Sums, useMoneyText } from "../../frame/figure";
import { useFolio } from "../../frame/folio";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import type { Reads } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { AgeStrip } from "./age-strip";
import { BudgetStrip } from "./budget-strip";
import { ToBill } from "./to-bill";
import { arrangementWords, type ClientWork, daysOf, type EngagementWork, type Part, type WipAddress } from "./use-wip";
import wipCss from "./wip.module.css";

/** A row of the list: a client, or one of its engagements. */
export interface Row {
  client: ClientWork;
  work?: EngagementWork;
}

export const rowsOf = (clients: ClientWork[]): Row[] =>
  clients.flatMap((client) => [{ client }, ...client.engagements.map((work) => ({ client, work }))]);

const idsOf = (row: Row) => (row.work ? [row.work.engagementId] : row.client.engagements.map((e) => e.engagementId));

interface Props {
  read: Reads;
  rows: Row[];
  address: WipAddress;
  picked: Set<number>;
  mayPick: boolean;
  onMake: () => void;
}

/** Clients with their engagements under them, each with what it would bill. */
export function WorkList({ read, rows, address, picked, mayPick, onMake }: Props) {
  const folio = useFolio();
  const arrangement = useArrangement();
  const openRow = (row: Row) => address.change({ open: String(idsOf(row)[0] ?? 0) });
  const leave = (part: Part) => (row: Row) => mayPick && row.work && address.leave(row.work.engagementId, part);
  const chosen = (row: Row) => idsOf(row).filter((id) => picked.has(id)).length;
  const list = useList({
    name: "wip",
    rows,
    columns: columns(address, arrangement, (work) => mayPick && picked.has(work.engagementId)),
    id: (row) => (row.work ? row.work.engagementId : `client ${row.client.clientId}`),
    text: ({ client, work }) =>
      `${client.client} ${work ? work.engagement : client.engagements.map((e) => e.engagement).join(" ")}`,
    opensNothing: true,
  });
  return (
    <List
      main
      className={wipCss.wip}
      label="Unbilled work"
      list={list}
      read={read}
      choice={
        mayPick
          ? {
              has: (row) => chosen(row) === idsOf(row).length,
              some: (row) => chosen(row) > 0,
              set: (some, on) => address.choose(some.flatMap(idsOf), on),
              label: (row) => row.work?.engagement ?? row.client.client,
            }
          : undefined
      }
      tone={(row) =>
        row.work ? row.work.engagementId === address.open && "open" : clsx(tableCss.ofClient, wipCss.client)
      }
      across={(row) =>
        row.work ? undefined : (
          <ClientCells
            client={row.client}
            address={address}
            mayPick={mayPick && chosen(row) > 0}
            columns={list.columns.filter((c) => !list.kept.hidden.includes(c.name)).length}
          />
        )
      }
      onClick={openRow}
      onOpen={(row) => {
        openRow(row);
        folio.turn(true);
      }}
      keys={{
        "=": (row) => {
          openRow(row);
          setTimeout(() => openExplanation(document.querySelector("aside")), 150);
        },
        d: onMake,
        t: leave("time"),
        e: leave("expenses"),
        c: leave("charges"),
        s: (row) => mayPick && address.mix(row.client.combined, idsOf(row)),
        f: () => {
          const next = [...list.rows.slice(list.current + 1), ...list.rows.slice(0, list.current + 1)].find(
            (row) => findingsIn(row) > 0,
          );
          if (!next) return;
          list.move(list.rows.indexOf(next));
          openRow(next);
        },
      }}
      empty={<p>Nothing is unbilled here. Choose a later day or other filters, or record some time.</p>}
    />
  );
}

const findingsIn = ({ client, work }: Row) => (work ? work.findings.length : client.findings.length);

/** A column of an engagement; the rows of clients stand across. */
const column = (
  name: string,
  cell: (work: EngagementWork) => ReactNode,
  more: Partial<Column<Row>> & { of?: (work: EngagementWork) => Amount } = {},
): Column<Row> => {
  const { of, ...rest } = more;
  return {
    name,
    cell: ({ work }) => work && cell(work),
    sum:
      of &&
      ((rows, words) => (
        <Sums label={name} parts={rows.map((row) => ({ of: words(row), amount: row.work && of(row.work) }))} />
      )),
    ...rest,
  };
};

function columns(
  address: WipAddress,
  arrangement: (work: EngagementWork) => string,
  leaves: (work: EngagementWork) => boolean,
): Column<Row>[] {
  const part = (name: Part, label: string) =>
    column(
      label,
      (work) =>
        name === "time" && work.time.minor === 0 && work.covered ? (
          <span className="soft">covered</span>
        ) : (
          <Leavable part={name} amount={work[name]} work={work} address={address} mayPick={leaves(work)} />
        ),
      { number: true },
    );
  return [
    {
      name: "Client and engagement",
      cell: ({ client, work }) =>
        work && (
          <>
            {work.engagement}
            {address.members.has(work.engagementId) && <span className="soft"> · in the run</span>}
            {client.engagements.length > 1 && leaves(work) && <OnWhich client={client} work={work} address={address} />}
          </>
        ),
      names: "light",
      tone: () => tableCss.indented,
      title: ({ work }) => work?.engagement ?? "",
      sum: () => "Everything",
    },
    column("Arrangement", arrangement, { tone: () => "soft", title: ({ work }) => (work ? arrangement(work) : "") }),
    column("Billed", (work) => short(work.lastBilled) || "never", {
      tone: () => "soft",
      title: ({ work }) => (work?.lastBilled ? `Last billed ${long(work.lastBilled)}` : "Never billed"),
    }),
    column("Oldest, days", (work) => <AgeStrip ages={work.ages} oldest={work.oldest} />),
    column("Hours", (work) => hours(work.minutes), {
      number: true,
      sum: (rows) => hours(rows.reduce((sum, { work }) => sum + (work?.minutes ?? 0), 0)),
    }),
    part("time", "Time"),
    part("expenses", "Expenses"),
    part("charges", "Charges"),
    column("Budget", (work) => <BudgetStrip budget={work.budget} />),
    column(
      "To bill, net",
      (work) => <ToBill engagementId={work.engagementId} amount={work.value} days={daysOf(address)} />,
      {
        number: true,
        of: (work) => work.value,
      },
    ),
    column("Findings", (work) => work.findings.length || "", {
      number: true,
      tone: () => "lost",
      head: (
        <span title="Findings">
          <span aria-hidden>!</span>
          <span className="unseen">Findings</span>
        </span>
      ),
    }),
  ];
}

/** How an engagement is billed, with its fee or cap. */
function useArrangement() {
  const money = useMoneyText();
  return (work: EngagementWork) => {
    const words = arrangementWords[work.arrangement] ?? work.arrangement;
    if (!work.fee) return words;
    const fee = money(work.fee, true).replace(/\.00$/, "");
    if (work.arrangement === "capped") return `Hourly, cap ${fee}`;
    return `${words} ${fee}${work.feePeriod ? ` / ${work.feePeriod}` : ""}`;
  };
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
      className={left ? clsx(wipCss.leavable, wipCss.left) : wipCss.leavable}
      tabIndex={-1}
      title={left ? `Take the ${part} (${part[0]})` : `Leave the ${part} unbilled (${part[0]})`}
      onClick={(event) => {
        event.stopPropagation();
        address.leave(work.engagementId, part);
      }}
    >
      <span className={wipCss.taken} aria-hidden />
      <Money of={amount} bare />
      <span className="unseen"> {part}</span>
    </button>
  );
}

/** Whether an engagement stands on an invoice of its own this time. */
const isApart = (client: ClientWork, id: number, address: WipAddress) =>
  client.combined ? address.apart.has(id) : !address.together.has(id);

interface OnWhichProps {
  client: ClientWork;
  work: EngagementWork;
  address: WipAddress;
}

/** On which invoice of its client an engagement stands, changed for this time. */
function OnWhich({ client, work, address }: OnWhichProps) {
  const apart = isApart(client, work.engagementId, address);
  return (
    <span className={wipCss.onWhich}>
      <Do
        tabIndex={-1}
        title={apart ? "Put it on one invoice with the others, this time (s)" : "Bill it by itself, this time (s)"}
        onClick={(event) => {
          event.stopPropagation();
          address.mix(client.combined, [work.engagementId]);
        }}
      >
        {apart ? "by itself" : "with the others"}
      </Do>
    </span>
  );
}

interface ClientProps {
  client: ClientWork;
  address: WipAddress;
  mayPick: boolean;
  /** How many columns are shown. */
  columns: number;
}

function ClientCells({ client, address, mayPick, columns }: ClientProps) {
  const money = useMoneyText();
  const ids = client.engagements.map((e) => e.engagementId);
  const apart = ids.filter((id) => isApart(client, id, address));
  const flipped = client.combined ? apart : ids.filter((id) => !apart.includes(id));
  const combined = apart.length === 0;
  const several = ids.length - apart.length;
  const words = combined
    ? `one invoice for ${ids.length}`
    : several < 2
      ? "separate invoices"
      : `one invoice for ${several}, ${apart.length} by ${apart.length === 1 ? "itself" : "themselves"}`;
  return (
    <>
      <th scope="row">{client.client}</th>
      <td className="soft" colSpan={Math.max(1, columns - 3)}>
        {ids.length > 1 &&
          (mayPick ? (
            <Do
              tabIndex={-1}
              title={combined ? "Bill each by itself, this time" : "Bill them on one invoice, this time"}
              onClick={(event) => {
                event.stopPropagation();
                address.mix(client.combined, flipped.length > 0 && flipped.length < ids.length ? flipped : ids);
              }}
            >
              {words}
            </Do>
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
        <Sums label="To bill, net" parts={client.engagements.map((e) => ({ of: e.engagement, amount: e.value }))} />
      </td>
      <td className="number lost">{client.findings.length || ""}</td>
    </>
  );
}
