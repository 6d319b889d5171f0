import { Button, Checkbox, Select } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import { hours, Money } from "../../frame/figure";
import formCss from "../../frame/form/form.module.css";
import { ChoosePeople } from "../../frame/record/choose";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { type RecordRow, useForm, useRecordActs, useRows } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import recordingCss from "../time/recording.module.css";
import { BudgetBar } from "./budget-bar";

type Engagement = Schema["EngagementOverview"];

/** The phases and tasks of an engagement with what was done on each; many are changed at once. */
export function Phases({ engagement }: { engagement: Engagement }) {
  const rows = useRows("phases", { of: engagement.id });
  const form = useForm("phases");
  const mayChange = useMayChange("phases");
  const { phaseWord } = useSession();
  const [picked, setPicked] = useState<number[]>([]);
  const [making, setMaking] = useState<string | null>(null);
  const [open, setOpen] = useState(0);
  if (!form.data) return null;
  const columns = form.data.fields.filter((f) => f.column).map((f) => f.name);
  const list = rows.data ?? [];
  const chosen = list.filter((row) => picked.includes(row.id));
  const toggle = (id: number) => setPicked(picked.includes(id) ? picked.filter((p) => p !== id) : [...picked, id]);
  const cell = (row: RecordRow, name: string) => row.cells[columns.indexOf(name)] ?? "";
  return (
    <section aria-label="Phases and tasks">
      <h2 className="sub">
        {phaseWord === "phase" ? "Phases and tasks" : `${phaseWord} and tasks`}{" "}
        {mayChange && making === null && <Do onClick={() => setMaking("")}>Add a {phaseWord}</Do>}
      </h2>
      {making !== null && (
        <div className={formCss.inPlace}>
          <NewRecord
            kind="phases"
            known={{ engagement: engagement.code, ...(making && { parent: making }) }}
            of={engagement.id}
            onMade={() => setMaking(null)}
            onCancel={() => setMaking(null)}
          />
        </div>
      )}
      {chosen.length > 0 && <Together rows={chosen} onDone={() => setPicked([])} />}
      {list.length === 0 && making === null && (
        <p className="soft">None. Without phases, time is recorded on the engagement itself.</p>
      )}
      {list.length > 0 && (
        <table className={tableCss.grid}>
          <thead>
            <tr>
              <th scope="col" className={tableCss.box}>
                <span className="unseen">Chosen</span>
              </th>
              <th scope="col">Phase or task</th>
              <th scope="col">Status</th>
              <th scope="col">Due</th>
              <th scope="col">Assigned to</th>
              <th scope="col">Budget</th>
              <th scope="col" className="number">
                Hours
              </th>
              <th scope="col" className="number">
                Worth, net
              </th>
              <th scope="col" className="number">
                Billed, net
              </th>
              <th scope="col">
                <span className="unseen">What can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {list.map((row) => [
              <PhaseRow
                key={row.id}
                row={row}
                cell={(name) => cell(row, name)}
                budgets={engagement.budgets.filter((b) => b.phaseId === row.id)}
                done={engagement.phases.find((p) => p.phaseId === row.id)}
                picked={picked.includes(row.id)}
                mayChange={mayChange}
                onPick={() => toggle(row.id)}
                onOpen={() => setOpen(open === row.id ? 0 : row.id)}
                onAddTask={() => setMaking(row.key)}
              />,
              open === row.id && (
                <tr key={`${row.id}-open`}>
                  <td colSpan={10}>
                    <div className={formCss.inPlace}>
                      <RecordSheet kind="phases" id={row.id} onGone={() => setOpen(0)} />
                    </div>
                  </td>
                </tr>
              ),
            ])}
          </tbody>
        </table>
      )}
    </section>
  );
}

interface RowProps {
  row: RecordRow;
  cell: (name: string) => string;
  budgets: Schema["BudgetView"][];
  done?: Schema["PhaseProgress"];
  picked: boolean;
  mayChange: boolean;
  onPick: () => void;
  onOpen: () => void;
  onAddTask: () => void;
}

function PhaseRow({ row, cell, budgets, done, picked, mayChange, onPick, onOpen, onAddTask }: RowProps) {
  const { today } = useSession();
  const task = cell("parent") !== "";
  const due = cell("due");
  const late = due && due < today && cell("status") !== "done";
  return (
    <tr className={picked ? "picked" : ""}>
      <td className={tableCss.box}>
        {mayChange && <Checkbox aria-label={`Select ${row.title}`} checked={picked} onChange={onPick} />}
      </td>
      <th scope="row" className={task ? clsx("light", tableCss.indented) : ""}>
        <Do onClick={onOpen}>{row.title}</Do>
        {cell("billable") === "no" && <span className={tableCss.beside}> not billable</span>}
      </th>
      <td>{cell("status")}</td>
      <td className={late ? "lost nowrap" : "nowrap"}>{long(due)}</td>
      <td>{cell("people")}</td>
      <td>
        {budgets.map((b) => (
          <div key={b.id}>
            {b.limit} <BudgetBar share={b.share} />
          </div>
        ))}
      </td>
      <td className="number">{hours(done?.minutes ?? 0)}</td>
      <td className="number">{done ? <Money of={done.worth} /> : "–"}</td>
      <td className="number">{done ? <Money of={done.billed} /> : "–"}</td>
      <td className="number">{mayChange && !task && <Do onClick={onAddTask}>Add a task</Do>}</td>
    </tr>
  );
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
