import { Checkbox } from "antd";
import { useState } from "react";
import type { Amount } from "../../api/client";
import { long } from "../../frame/days";
import { openExplanation } from "../../frame/explain";
import { hours, Money, Moneys } from "../../frame/figure";
import { useFolio } from "../../frame/folio";
import { useListKeys } from "../../frame/keys";
import { AgeStrip } from "./age-strip";
import { arrangementWords, type ClientWork, type EngagementWork, findingsOf } from "./use-wip";

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
  open: number;
  picked: Set<number>;
  mayPick: boolean;
  onOpen: (engagementId: number) => void;
  onToggle: (ids: number[]) => void;
  onMake: () => void;
}

/** Clients with their engagements under them, each with what it would bill. */
export function WorkList({ rows, totals, minutes, open, picked, mayPick, onOpen, onToggle, onMake }: Props) {
  const [current, setCurrent] = useState(0);
  const folio = useFolio();
  const keys = useListKeys(rows, current, setCurrent, {
    x: (row) => mayPick && onToggle(idsOf(row)),
    Enter: (row) => {
      onOpen(idsOf(row)[0] ?? 0);
      folio.turn(true);
    },
    "=": (row) => {
      onOpen(idsOf(row)[0] ?? 0);
      setTimeout(() => openExplanation(document.querySelector(".folio")), 150);
    },
    "/": () => document.querySelector<HTMLElement>("[data-sentence] input")?.focus(),
    d: onMake,
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
              {mayPick && <Box label="Everything" ids={all} picked={picked} onToggle={onToggle} />}
            </th>
            <th scope="col">Client and engagement</th>
            <th scope="col">Arrangement</th>
            <th scope="col">Oldest, days</th>
            <th scope="col" className="number">
              Entries
            </th>
            <th scope="col" className="number">
              Hours
            </th>
            <th scope="col">Last billed</th>
            <th scope="col" className="number">
              To bill, net
            </th>
            <th scope="col" className="number">
              Findings
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
              open={row.work?.engagementId === open}
              box={
                mayPick && (
                  <Box
                    label={row.work?.engagement ?? row.client.client}
                    ids={idsOf(row)}
                    picked={picked}
                    onToggle={onToggle}
                  />
                )
              }
              picked={idsOf(row).some((id) => picked.has(id))}
              onClick={() => {
                setCurrent(index);
                onOpen(idsOf(row)[0] ?? 0);
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
            <td />
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
  open: boolean;
  picked: boolean;
  box: React.ReactNode;
  onClick: () => void;
}

function WorkRow({ row: { client, work }, index, current, open, picked, box, onClick }: WorkRowProps) {
  const classes = [work ? "" : "of-client", picked ? "picked" : "", current ? "current" : "", open ? "open" : ""].join(
    " ",
  );
  return (
    <tr data-row={index} className={classes} onClick={onClick}>
      <td className="box">{box}</td>
      {work ? (
        <>
          <td className="indented">{work.engagement}</td>
          <td>{arrangementWords[work.arrangement]}</td>
          <td>
            <AgeStrip ages={work.ages} oldest={work.oldest} />
          </td>
          <td className="number">{work.entries}</td>
          <td className="number">{hours(work.minutes)}</td>
          <td>{long(work.lastBilled) || <span className="soft">never</span>}</td>
          <td className="number">
            <Money of={work.value} />
          </td>
          <td className="number lost">{findingsOf(work).length || ""}</td>
        </>
      ) : (
        <>
          <th scope="row">{client.client}</th>
          <td className="soft" colSpan={3}>
            {client.engagements.length > 1 &&
              (client.combined ? `one invoice for ${client.engagements.length}` : "separate invoices")}
          </td>
          <td className="number">{hours(client.minutes)}</td>
          <td />
          <td className="number">
            <Moneys of={client.values} />
          </td>
          <td />
        </>
      )}
    </tr>
  );
}
