import { Checkbox } from "antd";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";
import { Table } from "../../frame/list/table";
import { RecordSection } from "../../frame/record/section";
import { type RecordRow, useForm, useRecordActs, useRows } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";

/** The steps of a client's onboarding, ticked off as they are done; those that are done stay in sight. */
export function Steps({ client }: { client: { id: number; code: string } }) {
  const { today } = useSession();
  const rows = useRows("client-steps", { of: client.id });
  const form = useForm("client-steps");
  const acts = useRecordActs("client-steps");
  const columns = (form.data?.fields ?? []).filter((f) => f.column).map((f) => f.name);
  const cell = (row: RecordRow, name: string) => row.cells[columns.indexOf(name)] ?? "";
  const tick = (row: RecordRow, done: boolean) =>
    acts.change.mutate({
      records: [{ id: row.id, version: row.version }],
      field: "done",
      value: done ? today : "",
    });
  const when = (row: RecordRow) => {
    const [done, due] = [cell(row, "done"), cell(row, "due")];
    return done ? `done ${long(done)}` : due && `due ${long(due)}`;
  };
  const left = (rows.data ?? []).filter((row) => !cell(row, "done")).length;
  const late = (row: RecordRow) => !cell(row, "done") && cell(row, "due") !== "" && cell(row, "due") < today;
  return (
    <RecordSection
      kind="client-steps"
      label="Onboarding"
      heading={left === 0 ? "Onboarding, all done" : `Onboarding, ${left} to do`}
      add="Add a step"
      known={{ client: client.code }}
    >
      {({ mayChange, turn, under }) => (
        <>
          <Refused by={acts.change.error} />
          <Table
            headless
            rows={rows.data ?? []}
            id={(row) => row.id}
            under={under}
            columns={[
              {
                name: "Done",
                tone: () => tableCss.box,
                cell: (row) => (
                  <Checkbox
                    aria-label={`${row.title} done`}
                    checked={cell(row, "done") !== ""}
                    disabled={!mayChange}
                    onChange={(event) => tick(row, event.target.checked)}
                  />
                ),
              },
              { name: "Step", names: "light", cell: (row) => <Do onClick={() => turn(row.id)}>{row.title}</Do> },
              { name: "Whose", cell: (row) => cell(row, "owner") },
              {
                name: "Link",
                cell: (row) =>
                  cell(row, "link") && (
                    <a href={cell(row, "link")} target="_blank" rel="noreferrer">
                      {new URL(cell(row, "link")).host}
                    </a>
                  ),
              },
              { name: "File", cell: (row) => <StepFile id={row.id} file={cell(row, "file")} mayChange={mayChange} /> },
              { name: "When", cell: when, tone: (row) => (late(row) ? "lost" : "soft") },
            ]}
          />
        </>
      )}
    </RecordSection>
  );
}

/** What was got of a step: read, chosen, taken away. */
function StepFile({ id, file, mayChange }: { id: number; file: string; mayChange: boolean }) {
  const keep = useAct(
    (chosen: File | null) =>
      chosen
        ? api.put("/api/files/steps/{id}", { path: { id }, query: { name: chosen.name }, body: chosen })
        : api.delete("/api/steps/{id}/file", { path: { id } }),
    { records: true },
  );
  return (
    <>
      {file && (
        <a href={`/api/steps/${id}/file`} download={file}>
          {file}
        </a>
      )}{" "}
      {mayChange && (
        <label className={formCss.fileChoice}>
          {file ? "change" : "file"}
          <input
            type="file"
            aria-label="File of the step"
            accept="application/pdf,image/png,image/jpeg"
            onChange={(event) => {
              const chosen = event.target.files?.[0];
              if (chosen) keep.mutate(chosen);
              event.target.value = "";
            }}
          />
        </label>
      )}
      {mayChange && file && (
        <>
          {" "}
          <Do className="link lost" onClick={() => keep.mutate(null)}>
            take away
          </Do>
        </>
      )}
      <Refused by={keep.error} inline />
    </>
  );
}
