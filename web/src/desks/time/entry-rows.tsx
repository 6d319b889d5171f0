import { Link, useNavigate } from "react-router";
import { hoursText } from "../../api/hours";
import { useSession } from "../../api/session";
import { short } from "../../frame/days";
import { Money } from "../../frame/figure";
import { List } from "../../frame/list/list";
import { type Column, usePagedList } from "../../frame/list/use-list";
import { State } from "./state";
import type { Entry } from "./use-week";
import type { Sought, useWorkPages, WorkPage } from "./use-work";
import { billedWord } from "./words";

interface Props {
  sought: Sought;
  pages: ReturnType<typeof useWorkPages<Entry>>;
  picked: Set<number>;
  onPick: (picked: Set<number>) => void;
  onPickAll: () => void;
}

export const entriesOf = (page: WorkPage) => page.entries;

/** An entry in its week. */
export const weekOf = (entry: Entry) => `/time?week=${entry.day}&person=${entry.personId}&entry=${entry.id}`;

/** The list of entries: rows are read as they come into sight. */
export function EntryRows({ sought, pages, picked, onPick, onPickAll }: Props) {
  const { today, seesValues } = useSession();
  const navigate = useNavigate();
  const list = usePagedList({
    name: "entries",
    columns: columns(today.slice(0, 4), seesValues, sought.states.split(",").includes("estimated")),
    id: (entry: Entry) => entry.id,
    of: sought,
    ...pages,
  });
  const set = (entries: Entry[], chosen: boolean) => {
    const next = new Set(picked);
    for (const entry of entries) chosen ? next.add(entry.id) : next.delete(entry.id);
    onPick(next);
  };
  return (
    <List
      main
      label="Entries"
      list={list}
      read={pages.read}
      choice={{
        has: (entry) => picked.has(entry.id),
        set,
        label: (entry) => `${entry.day}, ${entry.initials}, ${entry.text}`,
        all: { chosen: picked.size, flip: () => (picked.size > 0 ? onPick(new Set()) : onPickAll()) },
      }}
      onOpen={(entry) => navigate(weekOf(entry))}
      empty={<p>No entries here. Choose other people, clients, states or days.</p>}
    />
  );
}

const columns = (year: string, values: boolean, estimates: boolean): Column<Entry>[] => [
  {
    name: "Day",
    width: 62,
    cell: (entry) => `${short(entry.day)}${entry.day.startsWith(year) ? "" : ` ${entry.day.slice(0, 4)}`}`,
  },
  { name: "Who", width: 38, title: (entry) => entry.person, cell: (entry) => entry.initials },
  {
    name: "Engagement",
    width: "20%",
    title: (entry) => `${entry.client} › ${entry.engagement}`,
    cell: (entry) => entry.engagement,
  },
  { name: "Service", width: 108, cell: (entry) => entry.service },
  {
    name: "Text",
    title: (entry) => entry.text,
    cell: (entry) => (
      <Link to={weekOf(entry)} className="quiet" tabIndex={-1}>
        {entry.text || <span className="soft">no text</span>}
      </Link>
    ),
  },
  { name: "Billed", width: 86, tone: () => "soft", cell: billedWord },
  ...(estimates
    ? [
        { name: "Estimate", width: 66, number: true, cell: (entry: Entry) => hoursText(entry.expected) },
        {
          name: "Over it",
          width: 62,
          number: true,
          tone: (entry: Entry) => entry.minutes > entry.expected && "lost",
          cell: (entry: Entry) =>
            entry.minutes === entry.expected
              ? "–"
              : `${entry.minutes < entry.expected ? "−" : ""}${hoursText(Math.abs(entry.minutes - entry.expected))}`,
        },
      ]
    : []),
  { name: "Worked", width: 60, number: true, cell: (entry) => hoursText(entry.minutes) },
  ...(values
    ? [
        {
          name: "Value",
          width: 92,
          number: true,
          cell: (entry: Entry) =>
            entry.withoutRate ? (
              <Link to="/set-up/rates" className="lost" title="Give the rate that holds; then re-rate">
                no rate
              </Link>
            ) : (
              entry.value && <Money of={entry.value} />
            ),
        },
      ]
    : []),
  { name: "State", width: 96, cell: (entry) => <State of={entry} /> },
];
