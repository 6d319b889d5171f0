import { Checkbox } from "antd";
import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import { short } from "../../frame/days";
import { clock, Money } from "../../frame/figure";
import { Space, useWorkList } from "./long-list";
import { State } from "./state";
import type { Entry } from "./use-week";
import type { Sought, WorkPage } from "./use-work";
import { billedWord } from "./words";

interface Props {
  sought: Sought;
  total: number;
  picked: Set<number>;
  onPick: (picked: Set<number>) => void;
  onPickAll: () => void;
}

const entriesOf = (page: WorkPage) => page.entries;

/** An entry in its week. */
export const weekOf = (entry: Entry) => `/time?week=${entry.day}&person=${entry.personId}&entry=${entry.id}`;

/** The list of entries: rows are read as they come into sight. */
export function EntryRows({ sought, total, picked, onPick, onPickAll }: Props) {
  const { today, seesValues: values } = useSession();
  const navigate = useNavigate();
  const toggle = (id: number) => {
    const next = new Set(picked);
    if (!next.delete(id)) next.add(id);
    onPick(next);
  };
  const long = useWorkList(sought, total, entriesOf, {
    x: (entry) => toggle(entry.id),
    Enter: (entry) => navigate(weekOf(entry)),
  });
  if (total === 0) return <p className="empty">No entries here. Choose other people, clients, states or days.</p>;
  return (
    <section className="sheet" aria-label="Entries" {...long.list}>
      <table className="grid long-list entry-list" aria-rowcount={total + 1}>
        <thead>
          <tr>
            <th scope="col" className="box">
              <Checkbox
                aria-label="Select all entries"
                checked={picked.size > 0 && picked.size === total}
                indeterminate={picked.size > 0 && picked.size < total}
                onChange={() => (picked.size > 0 ? onPick(new Set()) : onPickAll())}
              />
            </th>
            <th scope="col">Day</th>
            <th scope="col">Who</th>
            <th scope="col">Engagement</th>
            <th scope="col">Service</th>
            <th scope="col">Text</th>
            <th scope="col">Billed</th>
            <th scope="col" className="number">
              Worked
            </th>
            {values && (
              <th scope="col" className="number">
                Value
              </th>
            )}
            <th scope="col">State</th>
          </tr>
        </thead>
        <tbody>
          <Space rows={long.first} columns={10} />
          {long.rows.map(({ index, row }) => (
            <EntryRow
              key={index}
              index={index}
              entry={row}
              current={index === long.current}
              picked={picked}
              values={values}
              year={today.slice(0, 4)}
              onToggle={toggle}
              onCurrent={() => long.setCurrent(index)}
            />
          ))}
          <Space rows={total - long.last} columns={10} />
        </tbody>
      </table>
    </section>
  );
}

interface RowProps {
  index: number;
  entry?: Entry;
  current: boolean;
  picked: Set<number>;
  values: boolean;
  year: string;
  onToggle: (id: number) => void;
  onCurrent: () => void;
}

function EntryRow({ index, entry, current, picked, values, year, onToggle, onCurrent }: RowProps) {
  if (!entry)
    return (
      <tr aria-rowindex={index + 2} className="unread">
        <td colSpan={10} />
      </tr>
    );
  const classes = [picked.has(entry.id) ? "picked" : "", current ? "current" : ""].join(" ");
  return (
    <tr aria-rowindex={index + 2} data-row={index} className={classes} onClick={onCurrent}>
      <td className="box">
        <Checkbox
          aria-label={`Select ${entry.day}, ${entry.initials}, ${entry.text}`}
          checked={picked.has(entry.id)}
          onChange={() => onToggle(entry.id)}
        />
      </td>
      <td className="nowrap">
        {short(entry.day)}
        {entry.day.startsWith(year) ? "" : ` ${entry.day.slice(0, 4)}`}
      </td>
      <td title={entry.person}>{entry.initials}</td>
      <td title={`${entry.client} › ${entry.engagement}`}>{entry.engagement}</td>
      <td>{entry.service}</td>
      <td title={entry.text}>
        <Link to={weekOf(entry)} className="quiet" tabIndex={-1}>
          {entry.text || <span className="soft">no text</span>}
        </Link>
      </td>
      <td className="soft">{billedWord(entry)}</td>
      <td className="number">{clock(entry.minutes)}</td>
      {values && (
        <td className="number">
          {entry.withoutRate ? <span className="lost">no rate</span> : entry.value && <Money of={entry.value} />}
        </td>
      )}
      <td>
        <State of={entry} />
      </td>
    </tr>
  );
}
