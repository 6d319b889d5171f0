import { Button } from "antd";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { instant } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import explainCss from "../../frame/explain.module.css";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { Table } from "../../frame/list/table";
import { Pick } from "../../frame/pick";
import { useForm } from "../../frame/record/use-record";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import setUpCss from "./set-up.module.css";
import { useIndex } from "./use-set-up";

type Check = Schema["ImportCheck"];

/** Where what was read is seen, if not in the set-up. */
const listOf: Record<string, string> = {
  clients: "/clients",
  time: "/time/list",
  expenses: "/time/expenses",
  "open-invoices": "/receivables",
};

/** What is read from files besides the records of the set-up. */
const recorded = [
  { name: "time", many: "time entries" },
  { name: "expenses", many: "expenses" },
  { name: "open-invoices", many: "open invoices" },
];

interface Asked {
  file: File;
  columns: string[] | null;
}

function useImport(kind: string) {
  const path = { kind };
  const check = useAct(
    ({ file, columns }: Asked) =>
      api.post("/api/files/{kind}/check", {
        path,
        query: { name: file.name, columns: columns?.join(",") },
        body: file,
      }),
    { changesNothing: true },
  );
  const take = useAct(
    ({ file, columns }: Asked) =>
      api.post("/api/files/{kind}", {
        path,
        query: { name: file.name, columns: columns?.join(",") },
        body: file,
      }),
    { records: true },
  );
  const undo = useAct((id: number) => api.delete("/api/imports/{id}", { path: { id } }), { records: true });
  return { check, take, undo };
}

/** Reading records from a file: a dry run that names every bad row, then all of them or none. */
export function ImportDesk() {
  const [search, setSearch] = useSearchParams();
  const kind = search.get("kind") ?? "clients";
  const index = useIndex();
  const { check, take, undo } = useImport(kind);
  const [asked, setAsked] = useState<Asked | null>(null);
  const records = (index.data ?? []).flatMap((room) => room.kinds).filter((k) => k.files);
  const kinds = [...records, ...recorded];
  const run = (next: Asked) => {
    setAsked(next);
    take.reset();
    check.mutate(next);
  };
  const forget = () => {
    setAsked(null);
    check.reset();
    take.reset();
  };
  const invoices = kind === "open-invoices";
  const found = check.data;
  const good = found && found.bad.length === 0 && asked;
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>Read from a file</Title>
        <Sentence>
          Take{" "}
          <SaidChoice
            label="What is read"
            value={kind}
            choices={kinds.map((k) => ({ value: k.name, label: k.many }))}
            onChange={(to) => {
              setSearch({ kind: to }, { replace: true });
              forget();
            }}
          />{" "}
          from{" "}
          <label className={formCss.fileChoice}>
            {asked?.file.name ??
              (invoices ? "choose e-invoices (XML, or a ZIP of them), CSV or XLSX" : "choose a CSV or XLSX file")}
            <input
              type="file"
              aria-label="File"
              accept={invoices ? ".csv,.xlsx,text/csv,.xml,application/xml,.zip" : ".csv,.xlsx,text/csv"}
              onChange={(event) => {
                const file = event.target.files?.[0];
                if (file) run({ file, columns: null });
                event.target.value = "";
              }}
            />
          </label>
          . Nothing is taken until you say so.
        </Sentence>
        {!asked && <Known kind={kind} />}
        <Refused by={check.error} />
        {found?.notice && <p className="soft">{found.notice}</p>}
        {check.isPending && <p className="soft">Trying all rows…</p>}
        {found && asked && !check.isPending && (
          <Found check={found} onColumns={(columns) => run({ ...asked, columns })} />
        )}
      </div>
      <Folio label="Imports">
        <Done undoing={undo.isPending} problem={undo.error} onUndo={(id) => undo.mutate(id)} />
      </Folio>
      <Tally
        of={{ data: found }}
        notice={
          take.error ? (
            <span className="refusal">{take.error.message}</span>
          ) : (
            take.data && (
              <span>
                Took {take.data.rows} {take.data.many}. <Link to={listOf[kind] ?? `/set-up/${kind}`}>See them</Link>{" "}
                <Do onClick={() => undo.mutate(take.data.id, { onSuccess: forget })}>Undo</Do>
              </span>
            )
          )
        }
        actions={
          <Button
            type="primary"
            disabled={!good || take.isSuccess}
            loading={take.isPending}
            onClick={() => asked && take.mutate(asked)}
          >
            {good ? `Take ${found.rows} ${found.rows === 1 ? "row" : "rows"}` : "Take the rows"}
          </Button>
        }
      >
        <TallySum figure={found?.rows ?? 0} what="rows" />
        <TallySum figure={found?.good ?? 0} what="can be taken" />
        <TallySum lost={(found?.bad.length ?? 0) > 0} figure={found?.bad.length ?? 0} what="can't" />
      </Tally>
    </>
  );
}

/** What a file can say, before one is chosen. */
function Known({ kind }: { kind: string }) {
  const form = useForm(kind);
  if (!form.data) return null;
  return (
    <div className={setUpCss.knownColumns}>
      <p>
        The first row names the columns, in any order; what is not there has its default. Known columns, of which only
        the bold are needed:
      </p>
      <p>
        {form.data.fields.map((f, at) => (
          <span key={f.name}>
            {at > 0 && " · "}
            {f.needed && !f.default ? <b>{f.label}</b> : f.label}
          </span>
        ))}
      </p>
    </div>
  );
}

const shownRows = 200;

function Found({ check, onColumns }: { check: Check; onColumns: (columns: string[]) => void }) {
  const columns = check.columns.map((c) => c.field);
  const options = [{ value: "", label: "leave out" }, ...check.fields.map((f) => ({ value: f.name, label: f.label }))];
  return (
    <section className={deskCss.sheet} aria-label="The file">
      <Table
        rows={check.columns.map((column, at) => ({ ...column, at }))}
        id={({ at }) => at}
        columns={[
          { name: "Column of the file", names: "strong", cell: ({ header }) => header },
          {
            name: "It is",
            cell: ({ header, field, at }) => (
              <Pick
                className={formCss.choose}
                size="middle"
                variant="borderless"
                label={`${header} is`}
                value={field}
                choices={options}
                onChange={(to) => onColumns(columns.map((was, i) => (i === at ? to : was === to ? "" : was)))}
              />
            ),
          },
          { name: "For example", tone: () => "soft", cell: ({ sample }) => sample },
        ]}
      />
      {check.bad.length > 0 && (
        <Table
          rows={check.bad.slice(0, shownRows)}
          id={({ row }) => row}
          columns={[
            { name: "Row", number: true, cell: ({ row }) => row },
            { name: "Column", cell: ({ column }) => column },
            { name: "Value", cell: ({ value }) => value },
            { name: "Why it can't be taken", tone: () => "lost", cell: ({ reason }) => reason },
          ]}
        />
      )}
      {check.bad.length > shownRows && <p className="soft">And {check.bad.length - shownRows} more.</p>}
    </section>
  );
}

/** What was read before, each taken back as one. */
function Done({ undoing, problem, onUndo }: { undoing: boolean; problem: Error | null; onUndo: (id: number) => void }) {
  const imports = useRead("/api/imports");
  const rows = imports.data ?? [];
  return (
    <>
      <h2>What was read before</h2>
      {rows.length === 0 && (
        <p className="soft">
          Nothing yet. A file's columns are matched by their names; the same come out when a list is saved as CSV.
        </p>
      )}
      <Refused by={problem} />
      <ol className={tableCss.plainList}>
        {rows.map((row) => (
          <li key={row.id}>
            {row.rows} {row.many} from {row.name}
            <span className={explainCss.stepDetail}>{instant(row.at)}</span>
            {row.undone ? (
              <span className="soft">taken back</span>
            ) : (
              <Do disabled={undoing} onClick={() => onUndo(row.id)}>
                Take back
              </Do>
            )}
          </li>
        ))}
      </ol>
    </>
  );
}
