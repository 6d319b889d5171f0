import { Do } from "../../frame/do";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { type Opening, RecordSection } from "../../frame/record/section";
import { type Field, type RecordRow, useForm, useRows } from "../../frame/record/use-record";
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
  if (!form.data) return null;
  const { one, fields } = form.data;
  const cells = fields.filter((f) => f.column).map(cellOf);
  const columns = ({ turn }: Opening): Column<RecordRow>[] =>
    kind === "contacts"
      ? [
          {
            name: "Who",
            names: "strong",
            cell: (row) => (
              <>
                <Do onClick={() => turn(row.id)}>{row.title}</Do>
                {row === rows.data?.[0] && first && <span className={tableCss.beside}> {first}</span>}
              </>
            ),
          },
          ...cells,
        ]
      : [...cells, { name: "Open", number: true, cell: (row) => <Do onClick={() => turn(row.id)}>Open</Do> }];
  return (
    <RecordSection
      kind={kind}
      label={title}
      add={`Add a ${one}`}
      known={{ client: client.code }}
      empty={rows.data?.length === 0}
      none="None yet."
    >
      {(opening) => (
        <Table
          headless
          rows={rows.data ?? []}
          columns={columns(opening).filter((c) => c.name !== "client")}
          id={(row) => row.id}
          under={opening.under}
        />
      )}
    </RecordSection>
  );
}

const cellOf = (field: Field, at: number): Column<RecordRow> => ({
  name: field.name,
  whole: field.form !== "lines",
  tone: () => field.form === "lines" && tableCss.wraps,
  cell: (row) => (field.form === "yes_no" ? row.cells[at] === "yes" && field.label.toLowerCase() : row.cells[at]),
});
