import { clsx } from "clsx";
import { useNavigate } from "react-router";
import type { Schema } from "../../api/client";
import { hours, Moneys } from "../../frame/figure";
import { List } from "../../frame/list/list";
import listCss from "../../frame/list/list.module.css";
import { type Column, useList } from "../../frame/list/use-list";
import tableCss from "../../frame/table.module.css";
import recordingCss from "./recording.module.css";
import { type Sought, useGroups } from "./use-work";

type Group = Schema["Group"];
type GroupName = "toBill" | "inFee" | "billed" | "notBillable";

interface Line {
  group: Group;
  outer: Group;
}

const heads: { name: GroupName; label: string; states: string }[] = [
  { name: "toBill", label: "Billable, not billed", states: "to_bill" },
  { name: "inFee", label: "In a fee or over a cap", states: "in_fee" },
  { name: "billed", label: "Billed", states: "billed" },
  { name: "notBillable", label: "Not billable", states: "not_billable" },
];

interface Props {
  sought: Sought;
  by: string;
  onGo: (change: Partial<Record<keyof Sought | "by", string>>) => void;
}

/** Work added up by client or by person, in four groups; a figure opens the entries that make it up. */
export function GroupTable({ sought, by, onGo }: Props) {
  const groups = useGroups(sought, by);
  const navigate = useNavigate();
  const lines: Line[] = (groups.data ?? []).flatMap((outer) => [
    { group: outer, outer },
    ...outer.inner.map((group) => ({ group, outer })),
  ]);
  const open = (line: Line, states = "") => {
    const engagement = line.group === line.outer ? {} : { engagements: String(line.group.id) };
    const whose = by === "person" ? { people: String(line.outer.id) } : { clients: String(line.outer.id) };
    onGo({ ...whose, ...engagement, by: "", ...(states ? { states } : {}) });
  };
  const list = useList({
    name: `sums.${sought.of}.${by}`,
    rows: lines,
    columns: columns(by, sought.of === "expenses", open),
    id: (line) => `${line.outer.id}-${line.group === line.outer ? "all" : line.group.id}`,
    text: (line) => `${line.outer.name} ${line.group.name} ${line.group.beside}`,
  });
  return (
    <List
      main
      className={listCss.groups}
      label="Sums"
      list={list}
      read={groups}
      tone={(line) => line.group === line.outer && tableCss.ofClient}
      onOpen={(line) => open(line)}
      keys={{ Backspace: () => navigate(-1) }}
      empty={<p>Nothing here. Choose other people, clients, states or days.</p>}
    />
  );
}

const columns = (by: string, expenses: boolean, open: (line: Line, states?: string) => void): Column<Line>[] => [
  {
    name: by === "person" ? "Person and engagement" : "Client and engagement",
    names: "strong",
    tone: (line) => line.group !== line.outer && clsx("light", tableCss.indented),
    cell: (line) => (
      <>
        <button type="button" className="quiet" tabIndex={-1} onClick={() => open(line)}>
          {line.group.name}
        </button>
        {line.group.beside && <span className="soft"> · {line.group.beside}</span>}
      </>
    ),
  },
  ...heads.flatMap(({ name, label, states }): Column<Line>[] => [
    {
      name: `${label}: ${expenses ? "expenses" : "entries"}`,
      head: expenses ? "Expenses" : "Entries",
      over: label,
      number: true,
      tone: () => recordingCss.groupFirst,
      cell: ({ group, outer }) =>
        group[name].count > 0 && (
          <button type="button" className="quiet figure" tabIndex={-1} onClick={() => open({ group, outer }, states)}>
            {group[name].count}
          </button>
        ),
    },
    ...(expenses
      ? []
      : [
          {
            name: `${label}: hours`,
            head: "Hours",
            over: label,
            number: true,
            cell: ({ group }: Line) => hours(group[name].minutes, ""),
          },
        ]),
    {
      name: `${label}: value`,
      head: "Value",
      over: label,
      number: true,
      cell: ({ group }) => group[name].count > 0 && <Moneys of={group[name].values} />,
    },
  ]),
];
