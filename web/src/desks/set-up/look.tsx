import { Button } from "antd";
import { Link, useSearchParams } from "react-router";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Folio } from "../../frame/folio";
import { DocumentPages } from "../../frame/pages";
import { useRows, useSheet, type Value } from "../../frame/record/use-record";
import { SaidChoice, SaidText, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { Logo } from "./logo";
import setUpCss from "./set-up.module.css";

const group = "Look of documents";

/** Keeps what was tried on as the firm's: each value is a change of its own in the history. */
function useKeep() {
  return useAct(
    async (tried: [string, string][]) => {
      for (const [field, value] of tried) {
        const { id, version } = await api.get("/api/records/{kind}/{id}", { path: { kind: "firm", id: 1 } });
        await api.put("/api/records/{kind}", {
          path: { kind: "firm" },
          body: { records: [{ id, version }], field, value },
        });
      }
    },
    { records: true },
  );
}

/** How documents look unless a client or an engagement says otherwise: tried on, seen, then kept. */
export function LookDesk() {
  const { role, firm } = useSession();
  const sheet = useSheet("firm", 1);
  const pictures = (useRows("pictures").data ?? []).map((row) => ({ value: row.title, label: row.title }));
  const [search, setSearch] = useSearchParams();
  const keep = useKeep();
  const values = (sheet.data?.values ?? []).filter((value) => value.group === group);
  const of = (name: string) => search.get(name) ?? values.find((value) => value.name === name)?.value ?? "";
  const tried = values.flatMap((value): [string, string][] => {
    const text = search.get(value.name);
    return text !== null && text !== value.value ? [[value.name, text]] : [];
  });
  const tryOn = (name: string, value: string) => {
    const next = new URLSearchParams(window.location.search); // what was tried on a moment ago may not be drawn yet
    next.set(name, value);
    setSearch(next, { replace: true });
  };
  if (values.length === 0) return null;
  const choice = (name: string) => <Said name={name} values={values} value={of(name)} onChange={tryOn} />;
  const shown = new URLSearchParams(values.flatMap(({ name }) => (of(name) ? [[name, of(name)]] : [])));
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>Look of documents</Title>
        <Sentence>
          Drawn as {choice("design")}, in the colour{" "}
          <SaidText label="Colour" value={of("colour")} onChange={(text) => tryOn("colour", text)} />
          <span className={setUpCss.swatch} style={{ background: of("colour") }} aria-hidden />, set{" "}
          {choice("typeface")}, on {choice("paper")}, logo: {choice("logo")}, code to pay by: {choice("payment_code")},
          in {choice("language")} language; called{" "}
          <SaidText
            label="Title"
            any="Invoice, in that language"
            value={of("title")}
            onChange={(text) => tryOn("title", text)}
          />
          ; above the lines the picture{" "}
          <SaidChoice
            label="Picture above the lines"
            value={of("head_picture")}
            choices={[{ value: "", label: "none" }, ...pictures]}
            onChange={(name) => tryOn("head_picture", name)}
          />{" "}
          and{" "}
          <SaidText
            label="Lines above them"
            any="no lines of our own"
            value={of("head_lines")}
            onChange={(text) => tryOn("head_lines", text)}
          />
          .
        </Sentence>
        <div className={setUpCss.lookPages}>
          <DocumentPages
            address={`/api/look/sample.pdf?${shown}`}
            version={String(sheet.dataUpdatedAt)}
            name="An example invoice"
          />
        </div>
      </div>
      <Folio label="Look of documents">
        <p className={deskCss.folioOver}>What holds unless a client or an engagement says otherwise</p>
        <h2>{firm}</h2>
        <Logo />
        <p>
          Documents speak the language of the client’s record: English, German, French, Spanish, Polish or Greek, each
          number and date in its way. <Link to="/set-up/wordings">Words on documents</Link> puts your own in place of
          ours; <Link to="/set-up/pictures">Pictures</Link> keeps those that stand above the lines, or beside one.
        </p>
        <p>
          A client, an engagement or one invoice can have another look: on their record under “{group}”, or in the
          review of the draft under “Look”. What was issued stays as it was.
        </p>
      </Folio>
      <Tally
        notice={
          keep.error ? (
            <span className="refusal">{keep.error.message}</span>
          ) : (
            keep.isSuccess && tried.length === 0 && <span>Kept. Drafts that are made from now on look like this.</span>
          )
        }
        actions={
          <>
            {tried.length > 0 && <Button onClick={() => setSearch({}, { replace: true })}>As it was</Button>}
            {role === "administrator" && (
              <Button
                type="primary"
                disabled={tried.length === 0}
                loading={keep.isPending}
                onClick={() => keep.mutate(tried, { onSuccess: () => setSearch({}, { replace: true }) })}
              >
                Keep this look for everybody
              </Button>
            )}
          </>
        }
      >
        <TallySum figure={tried.length} what={tried.length === 1 ? "thing tried on" : "things tried on"} />
      </Tally>
    </>
  );
}

interface SaidProps {
  name: string;
  values: Value[];
  value: string;
  onChange: (name: string, value: string) => void;
}

/** One choice of the look, in the sentence. */
function Said({ name, values, value, onChange }: SaidProps) {
  const of = values.find((v) => v.name === name);
  if (!of) return null;
  const options =
    of.form === "yes_no"
      ? [
          { value: "yes", label: "yes" },
          { value: "no", label: "no" },
        ]
      : (of.options ?? []);
  return <SaidChoice label={of.label} value={value} choices={options} onChange={(to) => onChange(name, to)} />;
}
