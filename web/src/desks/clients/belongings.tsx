import { useState } from "react";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { useForm, useRows } from "../../frame/record/use-record";
import tableCss from "../../frame/table.module.css";

interface Props {
  kind: "contacts" | "client-notes";
  title: string;
  client: { id: number; code: string };
  /** What the first of them is called. */
  first?: string;
}

/** What belongs to a client, made and changed in place. */
export function Belongings({ kind, title, client, first }: Props) {
  const rows = useRows(kind, { of: client.id });
  const form = useForm(kind);
  const mayChange = useMayChange(kind);
  const [making, setMaking] = useState(false);
  const [open, setOpen] = useState(0);
  if (!form.data) return null;
  const columns = form.data.fields.filter((f) => f.column);
  return (
    <section aria-label={title}>
      <h2 className="sub">
        {title} {mayChange && !making && <Do onClick={() => setMaking(true)}>Add a {form.data.one}</Do>}
      </h2>
      {making && (
        <div className={formCss.inPlace}>
          <NewRecord
            kind={kind}
            known={{ client: client.code }}
            onMade={() => setMaking(false)}
            onCancel={() => setMaking(false)}
          />
        </div>
      )}
      <table className={tableCss.grid}>
        <tbody>
          {(rows.data ?? []).map((row, index) => [
            <tr key={row.id} className={row.id === open ? "open" : ""}>
              {kind === "contacts" && (
                <th scope="row">
                  <Do onClick={() => setOpen(open === row.id ? 0 : row.id)}>{row.title}</Do>
                  {index === 0 && first && <span className={tableCss.beside}> {first}</span>}
                </th>
              )}
              {columns.map((field, at) =>
                field.name === "client" ? null : (
                  <td key={field.name} className={field.form === "lines" ? tableCss.wraps : "nowrap"}>
                    {field.form === "yes_no" ? row.cells[at] === "yes" && field.label.toLowerCase() : row.cells[at]}
                  </td>
                ),
              )}
              {kind === "client-notes" && (
                <td className="number">
                  <Do onClick={() => setOpen(open === row.id ? 0 : row.id)}>Open</Do>
                </td>
              )}
            </tr>,
            row.id === open && (
              <tr key={`${row.id}-open`}>
                <td colSpan={columns.length + 1}>
                  <div className={formCss.inPlace}>
                    <RecordSheet kind={kind} id={row.id} onGone={() => setOpen(0)} />
                  </div>
                </td>
              </tr>
            ),
          ])}
        </tbody>
      </table>
      {rows.data?.length === 0 && !making && <p className="soft">None yet.</p>}
    </section>
  );
}
