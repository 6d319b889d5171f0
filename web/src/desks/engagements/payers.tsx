import { Do } from "../../frame/do";
import { text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import { RecordSection } from "../../frame/record/section";
import { type RecordRow, useRows } from "../../frame/record/use-record";

interface Props {
  engagement: { id: number; code: string; client: string };
}

/** Who pays an engagement together: each gets an invoice of their own, with their share of every line. */
export function Payers({ engagement }: Props) {
  const rows = useRows("payers", { of: engagement.id });
  const list = rows.data ?? [];
  return (
    <RecordSection
      kind="payers"
      label="Who pays"
      add={list.length === 0 ? "Let several pay" : "Add a payer"}
      known={{ engagement: engagement.code }}
      empty={list.length === 0}
      stays
      none={`${engagement.client} pays it alone.`}
    >
      {({ turn, under }) => (
        <Table
          rows={list}
          id={(row) => row.id}
          under={under}
          columns={[
            { name: "Who", names: "strong", cell: (row) => <Do onClick={() => turn(row.id)}>{row.title}</Do> },
            { name: "Share", number: true, cell: (row) => row.cells[1] },
            text<RecordRow>("Reference", (row) => row.cells[2] ?? ""),
          ]}
        />
      )}
    </RecordSection>
  );
}
