import { Checkbox } from "antd";
import { useState } from "react";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { useForm, useRecordActs, useRows } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";

/** The steps of a client's onboarding, ticked off as they are done. */
export function Steps({ client }: { client: { id: number; code: string } }) {
  const { today } = useSession();
  const rows = useRows("client-steps", { of: client.id });
  const form = useForm("client-steps");
  const acts = useRecordActs("client-steps");
  const mayChange = useMayChange("client-steps");
  const [making, setMaking] = useState(false);
  const [open, setOpen] = useState(0);
  const columns = (form.data?.fields ?? []).filter((f) => f.column).map((f) => f.name);
  const cell = (cells: string[], name: string) => cells[columns.indexOf(name)] ?? "";
  return (
    <section aria-label="Onboarding">
      <h2 className="sub">Onboarding {mayChange && !making && <Do onClick={() => setMaking(true)}>Add a step</Do>}</h2>
      {making && (
        <div className={formCss.inPlace}>
          <NewRecord
            kind="client-steps"
            known={{ client: client.code }}
            onMade={() => setMaking(false)}
            onCancel={() => setMaking(false)}
          />
        </div>
      )}
      <Refused by={acts.change.error} />
      <table className={tableCss.grid}>
        <tbody>
          {(rows.data ?? []).map((row) => {
            const done = cell(row.cells, "done");
            const due = cell(row.cells, "due");
            return [
              <tr key={row.id}>
                <td className={tableCss.box}>
                  <Checkbox
                    aria-label={`${row.title} done`}
                    checked={done !== ""}
                    disabled={!mayChange}
                    onChange={(event) =>
                      acts.change.mutate({
                        records: [{ id: row.id, version: row.version }],
                        field: "done",
                        value: event.target.checked ? today : "",
                      })
                    }
                  />
                </td>
                <th scope="row" className="light">
                  <Do onClick={() => setOpen(open === row.id ? 0 : row.id)}>{row.title}</Do>
                </th>
                <td>{cell(row.cells, "owner")}</td>
                <td className={!done && due && due < today ? "lost" : "soft"}>
                  {done ? `done ${long(done)}` : due && `due ${long(due)}`}
                </td>
              </tr>,
              row.id === open && (
                <tr key={`${row.id}-open`}>
                  <td colSpan={4}>
                    <div className={formCss.inPlace}>
                      <RecordSheet kind="client-steps" id={row.id} onGone={() => setOpen(0)} />
                    </div>
                  </td>
                </tr>
              ),
            ];
          })}
        </tbody>
      </table>
    </section>
  );
}
