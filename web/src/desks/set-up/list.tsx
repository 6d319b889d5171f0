import { Button } from "antd";
import { Navigate, useNavigate, useParams } from "react-router";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Folio, useFolio } from "../../frame/folio";
import { days, text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { NewRecord } from "../../frame/record/new";
import { RecordSheet, useMayChange } from "../../frame/record/sheet";
import { type Field, listed, type RecordRow, useForm, useListed, useOption } from "../../frame/record/use-record";
import { SaidChoice, Sentence } from "../../frame/sentence";
import tableCss from "../../frame/table.module.css";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { AskRate } from "./ask-rate";
import { sentenceCase } from "./index";
import { EnclosureFile, Picture } from "./logo";
import { PersonAccount } from "./person-account";
import { RatesOf, RerateOffer } from "./rates-of";
import setUpCss from "./set-up.module.css";
import { useIndex, useListAddress } from "./use-set-up";

/** The records of one kind, and the one that is open. */
export function SetUpList() {
  const kind = useParams().kind ?? "";
  const address = useListAddress();
  const form = useForm(kind);
  const index = useIndex();
  const { rows, cut } = useListed(kind, address.text, address.inactive || undefined);
  const allowed = useMayChange(kind);
  const navigate = useNavigate();
  const folio = useFolio();
  const list = rows.data ?? [];
  const shown = useList({
    name: `set-up.${kind}`,
    rows: list,
    columns: columns(kind, form.data?.fields ?? []),
    id: (row) => row.id,
    text: (row) => `${row.key} ${row.title} ${row.cells.join(" ")}`,
    open: address.open,
    sought: { text: address.text, set: (text) => address.change({ text: text || undefined }) },
    onMove: (row) => address.change({ open: String(row.id), new: undefined }),
  });
  if (form.error) return <Navigate to="/set-up" replace />;
  if (!form.data) return null;
  const { one, many, retires, files, kept } = form.data;
  const mayChange = allowed && !kept;
  const kinds = (index.data ?? []).flatMap((room) => room.kinds).filter((k) => k.name !== "firm");
  const counted = kinds.find((k) => k.name === kind)?.count;
  const make = () => address.change({ new: "yes", open: undefined });
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>{sentenceCase(many)}</Title>
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
        </Sentence>
        {allowed && kept && <p className="soft">{kept}</p>}
        {cut && (
          <p className="soft">
            The first {listed} {form.data.many} are listed. What is typed into the filter finds among all of them.
          </p>
        )}
        <List
          main
          className={setUpCss.records}
          label="Records"
          list={shown}
          read={rows}
          tone={(row) => !row.active && tableCss.retired}
          onOpen={(row) => {
            shown.move(list.indexOf(row));
            folio.turn(true);
          }}
          empty={<p>Nothing of this kind is kept here.</p>}
        />
      </div>
      <Folio label={sentenceCase(one)}>
        <ListFolio kind={kind} one={one} about={form.data.about} rows={list} onMake={make} />
      </Folio>
      <Tally
        of={rows}
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
        <TallySum figure={cut ? (counted ?? 0) : list.filter((row) => row.active).length} what={many} />
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
  const row = rows.find((row) => row.id === address.open);
  // What is opened may be beyond what is listed.
  const beyond = useOption(kind, row ? "" : (address.open ?? ""));
  const open = row ?? (beyond && { ...beyond, active: true });
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
        {kind === "rates" && mayChange && <RatesOf name="the firm" title="An hour of anybody, in the whole firm" />}
        {rows.length === 0 && mayChange && <Do onClick={onMake}>Make the first</Do>}
      </>
    );
  return (
    <>
      <p className={deskCss.folioOver}>{sentenceCase(one)}</p>
      <h2>
        {open?.title}
        {open && !open.active && <span className={tableCss.beside}> inactive</span>}
      </h2>
      {kind === "people" && mayChange && <PersonAccount id={address.open} />}
      {kind === "people" && mayChange && open && (
        <RatesOf key={open.key} person={open.key} name={open.title} title="An hour of theirs" />
      )}
      {kind === "pictures" && open && <Picture key={open.id} id={open.id} name={open.title} />}
      {kind === "enclosures" && row && <EnclosureFile key={row.id} id={row.id} file={row.cells.at(-1) ?? ""} />}
      {kind === "rates" && <RerateOffer rate={address.open} />}
      <RecordSheet
        key={address.open}
        kind={kind}
        id={address.open}
        onGone={() => address.change({ open: undefined })}
      />
    </>
  );
}

/** Forms whose values stand right-aligned. */
const numeric = new Set(["amount", "rate", "percent", "number", "minutes", "hours"]);

/** Kinds whose records have no name of their own. */
const untitled = new Set(["rates", "exchange-rates", "reference-rates", "tax-rates"]);

function columns(kind: string, fields: Field[]): Column<RecordRow>[] {
  const listed = fields
    .filter((f) => f.column)
    .map((f, at): Column<RecordRow> => {
      const of = (row: RecordRow) => row.cells[at] ?? "";
      if (f.form === "day") return days(f.label, of);
      const figure = numeric.has(f.form);
      return text(f.label, of, { name: f.label, number: figure, by: figure ? (row) => amountIn(of(row)) : of });
    });
  if (untitled.has(kind)) return listed;
  const title = text<RecordRow>("Name", (row) => row.title, {
    names: "strong",
    cell: (row) => (
      <>
        {row.title}
        {!row.active && <span className={tableCss.beside}> inactive</span>}
      </>
    ),
  });
  return [title, ...listed];
}

/** The size of a figure that is printed, for its order. */
const amountIn = (printed: string) => Number(printed.replace(/[^\d.−-]/g, "").replace("−", "-")) || 0;
