import { Button, Checkbox, Select } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { Do } from "../../frame/do";
import { hours } from "../../frame/figure";
import { days, money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { ChoosePeople } from "../../frame/record/choose";
import { RecordSection } from "../../frame/record/section";
import { useMayChange } from "../../frame/record/sheet";
import { type RecordRow, useForm, useRecordActs, useRows } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import recordingCss from "../time/recording.module.css";
import { budgetColumns } from "./phase-budgets";

type Engagement = Schema["EngagementOverview"];

/** The phases and tasks of an engagement with what was done on each; many are changed at once. */
export function Phases({ engagement }: { engagement: Engagement }) {
  const rows = useRows("phases", { of: engagement.id });
  const form = useForm("phases");
  const { phaseWord, today } = useSession();
  const mayBudget = useMayChange("budgets");
  const [picked, setPicked] = useState<number[]>([]);
  if (!form.data) return null;
  const names = form.data.fields.filter((f) => f.column).map((f) => f.name);
  const cell: CellOf = (row, name) => row.cells[names.indexOf(name)] ?? "";
  const list = rows.data ?? [];
  const chosen = list.filter((row) => picked.includes(row.id));
  const toggle = (id: number) => setPicked(picked.includes(id) ? picked.filter((p) => p !== id) : [...picked, id]);
  return (
    <RecordSection
      kind="phases"
      label="Phases and tasks"
      heading={phaseWord === "phase" ? "Phases and tasks" : `${phaseWord} and tasks`}
      add={`Add a ${phaseWord}`}
      known={{ engagement: engagement.code }}
      of={engagement.id}
      empty={list.length === 0}
      stays
      none="None. Without phases, time is recorded on the engagement itself."
    >
      {({ mayChange, turn, under, begin }) => (
        <>
          {chosen.length > 0 && <Together rows={chosen} onDone={() => setPicked([])} />}
          <Table
            sums
            rows={list}
            id={(row) => row.id}
            under={under}
            tone={(row) => picked.includes(row.id) && "picked"}
            columns={[
              {
                name: "Chosen",
                head: <span className="unseen">Chosen</span>,
                tone: () => tableCss.box,
                cell: (row) =>
                  mayChange && (
                    <Checkbox
                      aria-label={`Select ${row.title}`}
                      checked={picked.includes(row.id)}
                      onChange={() => toggle(row.id)}
                    />
                  ),
              },
              {
                name: "Phase or task",
                names: "strong",
                tone: (row) => cell(row, "parent") !== "" && clsx("light", tableCss.indented),
                cell: (row) => (
                  <>
                    <Do onClick={() => turn(row.id)}>{row.title}</Do>
                    {cell(row, "billable") === "no" && <span className={tableCss.beside}> not billable</span>}
                  </>
                ),
              },
              ...columns(engagement, cell, today, mayBudget),
              {
                name: "acts",
                head: <span className="unseen">What can be done</span>,
                number: true,
                cell: (row) =>
                  mayChange && !cell(row, "parent") && <Do onClick={() => begin({ parent: row.key })}>Add a task</Do>,
              },
            ]}
          />
        </>
      )}
    </RecordSection>
  );
}

type CellOf = (row: RecordRow, name: string) => string;

function columns(engagement: Engagement, cell: CellOf, today: string, mayBudget: boolean): Column<RecordRow>[] {
  const done = (row: RecordRow) => engagement.phases.find((p) => p.phaseId === row.id);
  const late = (row: RecordRow) =>
    cell(row, "due") !== "" && cell(row, "due") < today && cell(row, "status") !== "done";
  return [
    text("Status", (row) => cell(row, "status")),
    days("Due", (row) => cell(row, "due"), { tone: (row) => late(row) && "lost" }),
    text("Assigned to", (row) => cell(row, "people")),
    ...budgetColumns(engagement, mayBudget, (row) => cell(row, "parent")),
    text("Hours", (row) => hours(done(row)?.minutes ?? 0), { number: true }),
    money("Worth, net", (row) => done(row)?.worth, { sum: undefined }),
    money("Time billed, net", (row) => done(row)?.billed, { sum: undefined }),
  ];
}

const statuses = ["open", "begun", "done"].map((value) => ({ value, label: value, title: value }));

/** One change for all that are selected. */
function Together({ rows, onDone }: { rows: RecordRow[]; onDone: () => void }) {
  const acts = useRecordActs("phases");
  const [assigning, setAssigning] = useState(false);
  const [due, setDue] = useState("");
  const set = (field: string, value: string) =>
    acts.change.mutate(
      { records: rows.map(({ id, version }) => ({ id, version })), field, value },
      { onSuccess: onDone },
    );
  return (
    <fieldset className={recordingCss.together} aria-label="Change all that are selected">
      <b>{rows.length} selected:</b>
      <Select
        aria-label="Status of all"
        placeholder="status"
        variant="underlined"
        options={statuses}
        onChange={(status: string) => set("status", status)}
        value={undefined}
      />
      <span className="together-due">
        due{" "}
        <input
          aria-label="Due date of all"
          placeholder="2026-12-31, +30d"
          value={due}
          onChange={(event) => setDue(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && set("due", due)}
        />
      </span>
      {assigning ? (
        <ChoosePeople label="Assign all to" value="" onDone={(people) => set("people", people)} />
      ) : (
        <Do onClick={() => setAssigning(true)}>Assign…</Do>
      )}
      <Button size="small" onClick={() => set("status", "done")}>
        Done
      </Button>
      <Refused by={acts.change.error} inline />
    </fieldset>
  );
}
