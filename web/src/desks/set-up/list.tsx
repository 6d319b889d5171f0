import { Button } from "antd";
import { Navigate, useNavigate, useParams } from "react-router";
import { long } from "../../frame/days";
import { Folio, useFolio } from "../../frame/folio";
import { useListKeys } from "../../frame/keys";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { type Field, type RecordRow, useForm, useRows } from "../../frame/record/use-record";
import { SaidChoice, SaidText, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { AskRate } from "./ask-rate";
import { sentenceCase } from "./index";
import { PersonAccount } from "./person-account";
import { useIndex, useListAddress } from "./use-set-up";

/** The records of one kind, and the one that is open. */
export function SetUpList() {
  const kind = useParams().kind ?? "";
  const address = useListAddress();
  const form = useForm(kind);
  const index = useIndex();
  const rows = useRows(kind, { text: address.text || undefined, inactive: address.inactive || undefined });
  const allowed = useMayChange(kind);
  const navigate = useNavigate();
  if (form.error) return <Navigate to="/set-up" replace />;
  if (!form.data) return null;
  const { one, many, retires, files, kept } = form.data;
  const mayChange = allowed && !kept;
  const kinds = (index.data ?? []).flatMap((room) => room.kinds).filter((k) => k.name !== "firm");
  const list = rows.data ?? [];
  const make = () => address.change({ new: "yes", open: undefined });
  return (
    <>
      <div className="desk-main">
        <h1>{sentenceCase(many)}</h1>
        <Sentence>
          In the set-up, the{" "}
          <SaidChoice
            label="What is listed"
            value={kind}
            choices={kinds.map((k) => ({ value: k.name, label: k.many }))}
            onChange={(to) => navigate(`/set-up/${to}`)}
          />
          {retires && (
            <>
              ,{" "}
              <SaidChoice
                label="Inactive ones"
                value={address.inactive ? "yes" : "no"}
                choices={[
                  { value: "no", label: "active ones" },
                  { value: "yes", label: "inactive ones too" },
                ]}
                onChange={(value) => address.change({ inactive: value === "yes" ? "yes" : undefined })}
              />
            </>
          )}
          , named like{" "}
          <SaidText
            label="Named like"
            value={address.text || "anything"}
            onChange={(text) => address.change({ text })}
          />
        </Sentence>
        {allowed && kept && <p className="soft">{kept}</p>}
        <Rows
          kind={kind}
          fields={form.data.fields}
          rows={list}
          open={address.open}
          onOpen={(id) => address.change({ open: String(id), new: undefined })}
        />
      </div>
      <Folio label={sentenceCase(one)}>
        <ListFolio kind={kind} one={one} about={form.data.about} rows={list} onMake={make} />
      </Folio>
      <Tally
        actions={
          <>
            {files && mayChange && (
              <Button onClick={() => navigate(`/set-up/import?kind=${kind}`)}>Read from a file</Button>
            )}
            {files && (
              <>
                <Button href={`/api/records/${kind}/export?form=csv`}>As CSV</Button>
                <Button href={`/api/records/${kind}/export?form=xlsx`}>As XLSX</Button>
              </>
            )}
            {mayChange && form.data.first.length > 0 && (
              <Button type="primary" onClick={make}>
                New {one}
              </Button>
            )}
          </>
        }
      >
        <TallySum figure={list.filter((row) => row.active).length} what={many} />
      </Tally>
    </>
  );
}

interface FolioProps {
  kind: string;
  one: string;
  about: string;
  rows: RecordRow[];
  onMake: () => void;
}

function ListFolio({ kind, one, about, rows, onMake }: FolioProps) {
  const address = useListAddress();
  const mayChange = useMayChange(kind);
  const open = rows.find((row) => row.id === address.open);
  if (address.making)
    return (
      <>
        <h2>New {one}</h2>
        <NewRecord
          kind={kind}
          onMade={(made) => address.change({ new: undefined, open: String(made.id) })}
          onCancel={() => address.change({ new: undefined })}
        />
      </>
    );
  if (!address.open)
    return (
      <>
        {kind === "rates" ? <AskRate /> : <h2>None opened</h2>}
        <p className="soft">{about}</p>
        {rows.length === 0 && mayChange && (
          <button type="button" className="link" onClick={onMake}>
            Make the first
          </button>
        )}
      </>
    );
  return (
    <>
      <p className="folio-over">{sentenceCase(one)}</p>
      <h2>
        {open?.title}
        {open && !open.active && <span className="beside"> inactive</span>}
      </h2>
      {kind === "people" && mayChange && <PersonAccount id={address.open} />}
      <RecordSheet
        key={address.open}
        kind={kind}
        id={address.open}
        onGone={() => address.change({ open: undefined })}
      />
    </>
  );
}

interface RowsProps {
  kind: string;
  fields: Field[];
  rows: RecordRow[];
  open: number;
  onOpen: (id: number) => void;
}

/** Forms whose values stand right-aligned. */
const numeric = new Set(["amount", "rate", "percent", "number", "minutes", "hours"]);

function Rows({ kind, fields, rows, open, onOpen }: RowsProps) {
  const folio = useFolio();
  const columns = fields.filter((f) => f.column);
  const current = Math.max(
    0,
    rows.findIndex((row) => row.id === open),
  );
  const keys = useListKeys(rows, current, (at) => rows[at] && onOpen(rows[at].id), {
    Enter: (row) => {
      onOpen(row.id);
      folio.turn(true);
    },
    "/": () => document.querySelector<HTMLElement>("[data-sentence] input")?.focus(),
  });
  if (rows.length === 0) return <p className="empty">Nothing of this kind and name is kept here.</p>;
  const titled = kind !== "rates" && kind !== "exchange-rates" && kind !== "tax-rates";
  return (
    <section className="sheet" aria-label="Records" {...keys}>
      <table className="grid records">
        <thead>
          <tr>
            {titled && <th scope="col">Name</th>}
            {columns.map((f) => (
              <th key={f.name} scope="col" className={numeric.has(f.form) ? "number" : ""}>
                {f.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <tr
              key={row.id}
              data-row={index}
              className={[row.id === open ? "open picked" : "", row.active ? "" : "retired"].join(" ")}
              onClick={() => onOpen(row.id)}
            >
              {titled && (
                <th scope="row">
                  {row.title}
                  {!row.active && <span className="beside"> inactive</span>}
                </th>
              )}
              {columns.map((f, at) => (
                <td key={f.name} className={numeric.has(f.form) ? "number" : ""}>
                  {f.form === "day" ? long(row.cells[at] ?? "") : row.cells[at]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
