import { Input } from "antd";
import { useRef, useState } from "react";
import { long } from "../../frame/days";
import { Do } from "../../frame/do";
import { Money } from "../../frame/figure";
import { KeepAs } from "../../frame/keep-as";
import { Table } from "../../frame/list/table";
import { useRecordActs } from "../../frame/record/use-record";
import reviewCss from "./review.module.css";
import { changes, type Invoice, type useDraftActs } from "./use-billing";

interface Props {
  invoice: Invoice;
  acts: ReturnType<typeof useDraftActs>;
  mayEdit: boolean;
}

/** An instalment as it is kept: how much, and when. */
interface Part {
  share: string;
  when: string;
}

/** The parts of a schedule in its short line. */
const partsOf = (line: string): Part[] =>
  line
    .split(";")
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => {
      const [share = "", ...when] = part.split(" ");
      return { share, when: when.join(" ") };
    });

const lineOf = (parts: Part[]) => parts.map((part) => `${part.share} ${part.when}`.trim()).join("; ");

/** The instalments as a table beside their short line: each is typed in its cell, and the schedule is kept for others. */
export function Instalments({ invoice, acts, mayEdit }: Props) {
  const { parts: computed } = invoice.around;
  const line = invoice.choices.find((choice) => choice.name === "schedule")?.value ?? "";
  const parts = partsOf(line);
  const change = (next: Part[]) =>
    acts.change.mutate(changes.choose({ name: "schedule", value: lineOf(next), keep: "invoice" }));
  const set = (at: number, part: Partial<Part>) =>
    change(parts.map((before, index) => (index === at ? { ...before, ...part } : before)));
  const rows = parts.length > 0 ? parts : [{ share: "", when: "" }];
  return (
    <>
      <Table
        label="Instalments"
        className={reviewCss.parts}
        rows={rows.map((part, at) => ({ ...part, at, ...computed[at] }))}
        id={(row) => row.at}
        columns={[
          { name: "Instalment", names: "light", cell: (row) => `${row.at + 1} of ${rows.length}` },
          {
            name: "How much",
            cell: (row) =>
              mayEdit && parts.length > 0 ? (
                <Part label={`How much, ${row.at + 1}`} value={row.share} onSave={(share) => set(row.at, { share })} />
              ) : (
                row.share || "all of it"
              ),
          },
          {
            name: "When",
            cell: (row) =>
              mayEdit && parts.length > 0 ? (
                <Part label={`When, ${row.at + 1}`} value={row.when} onSave={(when) => set(row.at, { when })} />
              ) : (
                row.when || "on the terms"
              ),
          },
          {
            name: "Due",
            whole: true,
            cell: (row) => (
              <>
                {long(row.due ?? "")}
                {row.moved && <span className="lost"> moved to the invoice date</span>}
              </>
            ),
          },
          { name: "Amount", number: true, cell: (row) => row.amount && <Money of={row.amount} /> },
          {
            name: "acts",
            head: <span className="unseen">What can be done</span>,
            number: true,
            cell: (row) =>
              mayEdit &&
              parts.length > 0 && (
                <Do
                  aria-label={`Take instalment ${row.at + 1} away`}
                  onClick={() => change(parts.filter((_, at) => at !== row.at))}
                >
                  Take away
                </Do>
              ),
          },
        ]}
      />
      {mayEdit && (
        <p>
          <Do onClick={() => change(parts.length > 0 ? [...parts, { share: "rest", when: "monthly" }] : halves)}>
            Add an instalment
          </Do>{" "}
          {parts.length > 1 && <KeepSchedule line={line} />}
        </p>
      )}
    </>
  );
}

/** What one bill becomes when it is parted. */
const halves: Part[] = [
  { share: "rest", when: "issue" },
  { share: "rest", when: "monthly" },
];

/** A cell of the table: Enter, or leaving it, keeps what was typed. */
function Part({ label, value, onSave }: { label: string; value: string; onSave: (text: string) => void }) {
  const [typed, setTyped] = useState(value);
  const sent = useRef(value);
  // Enter and leaving the cell are one act.
  const save = () => {
    if (typed.trim() === sent.current) return;
    sent.current = typed.trim();
    onSave(typed.trim());
  };
  return (
    <Input
      size="small"
      aria-label={label}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={save}
      onPressEnter={save}
      onKeyDown={(event) => event.key === "Escape" && setTyped(value)}
    />
  );
}

/** Keeps the schedule under a name, for other invoices. */
function KeepSchedule({ line }: { line: string }) {
  const { add } = useRecordActs("payment-schedules");
  return (
    <KeepAs
      word="Keep it as a schedule"
      label="Name of the schedule"
      kept="Kept: it can be chosen on every invoice."
      act={{ ...add, mutate: (name) => add.mutate({ name, parts: line }) }}
    />
  );
}
