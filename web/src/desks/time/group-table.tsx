import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schema } from "../../api/client";
import { hours, Moneys } from "../../frame/figure";
import { useListKeys } from "../../frame/keys";
import { type Sought, useGroups } from "./use-work";

type Group = Schema["Group"];
type GroupName = "unbilled" | "billed" | "notBillable";

interface Line {
  group: Group;
  outer: Group;
}

const heads: { name: GroupName; label: string; states: string }[] = [
  { name: "unbilled", label: "Billable, not billed", states: "unbilled,on_draft" },
  { name: "billed", label: "Billed", states: "billed" },
  { name: "notBillable", label: "Not billable", states: "not_billable" },
];

interface Props {
  sought: Sought;
  by: string;
  onGo: (change: Partial<Record<keyof Sought | "by", string>>) => void;
}

/** Work added up by client or by person, in three groups; a figure opens the entries that make it up. */
export function GroupTable({ sought, by, onGo }: Props) {
  const groups = useGroups(sought, by);
  const [current, setCurrent] = useState(0);
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
  const keys = useListKeys(lines, current, setCurrent, {
    Enter: (line) => open(line),
    "/": () => document.querySelector<HTMLElement>("[data-sentence] input")?.focus(),
    Backspace: () => navigate(-1),
  });
  if (groups.error) return <p className="refusal">{groups.error.message}</p>;
  if (groups.data && lines.length === 0)
    return <p className="empty">Nothing here. Choose other people, clients, states or days.</p>;
  return (
    <section className="sheet" aria-label="Sums" {...keys}>
      <table className="grid groups">
        <thead>
          <tr>
            <th scope="col" rowSpan={2}>
              {by === "person" ? "Person and engagement" : "Client and engagement"}
            </th>
            {heads.map((head) => (
              <th key={head.name} scope="colgroup" colSpan={3} className="group-head">
                {head.label}
              </th>
            ))}
          </tr>
          <tr>
            {heads.map((head) => (
              <SubHeads key={head.name} expenses={sought.of === "expenses"} />
            ))}
          </tr>
        </thead>
        <tbody>
          {lines.map((line, index) => (
            <tr
              key={`${line.outer.id}-${line.group === line.outer ? "all" : line.group.id}`}
              data-row={index}
              className={`${line.group === line.outer ? "of-client" : ""} ${index === current ? "current" : ""}`}
              onClick={() => setCurrent(index)}
            >
              <th scope="row" className={line.group === line.outer ? "" : "indented light"}>
                <button type="button" className="quiet" tabIndex={-1} onClick={() => open(line)}>
                  {line.group.name}
                </button>
                {line.group.beside && <span className="soft"> · {line.group.beside}</span>}
              </th>
              {heads.map((head) => (
                <Cells key={head.name} of={line.group[head.name]} onOpen={() => open(line, head.states)} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function SubHeads({ expenses }: { expenses: boolean }) {
  return (
    <>
      <th scope="col" className="number group-first">
        {expenses ? "Expenses" : "Entries"}
      </th>
      <th scope="col" className="number">
        {expenses ? "" : "Hours"}
      </th>
      <th scope="col" className="number">
        Value
      </th>
    </>
  );
}

function Cells({ of, onOpen }: { of: Schema["InGroup"]; onOpen: () => void }) {
  return (
    <>
      <td className="number group-first">
        {of.count > 0 && (
          <button type="button" className="quiet figure" tabIndex={-1} onClick={onOpen}>
            {of.count}
          </button>
        )}
      </td>
      <td className="number">{hours(of.minutes, "")}</td>
      <td className="number">{of.count > 0 && <Moneys of={of.values} />}</td>
    </>
  );
}
