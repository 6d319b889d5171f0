import { Link, useSearchParams } from "react-router";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Folio } from "../../frame/folio";
import formCss from "../../frame/form/form.module.css";
import { text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidChoice, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { Stands } from "./stands";
import { bringsWords, type SentLetter, stateWords, wayWords } from "./use-letters";

const most = 200;

type Kind = SentLetter["brings"] | "";
type State = SentLetter["state"] | "";

const kinds: { value: Kind; label: string }[] = [
  { value: "", label: "every letter" },
  { value: "invoice", label: "invoices" },
  { value: "credit_note", label: "credit notes" },
  { value: "deposit", label: "deposit requests" },
  { value: "proposal", label: "proposals" },
  { value: "receipt", label: "receipts" },
  { value: "statement", label: "statements" },
  { value: "reminder", label: "reminders" },
  { value: "answer", label: "answers" },
  { value: "questionnaire", label: "questions" },
];

const states: State[] = ["queued", "taken", "arrived", "failed", "called_back", "posted", "saved"];

const columns: Column<SentLetter>[] = [
  text("Brings", (letter) => letter.number || letter.subject, {
    names: "light",
    cell: (letter) => (
      <>
        {letter.number || letter.subject}
        <span className="under">{bringsWords[letter.brings]}</span>
      </>
    ),
  }),
  text("Client", (letter) => letter.client),
  text("To", (letter) => letter.mail || letter.to),
  text("How", (letter) => wayWords[letter.way]),
  text("State", (letter) => stateWords[letter.state], { cell: (letter) => <Stands letter={letter} /> }),
  text("When", (letter) => letter.madeAt, {
    whole: true,
    cell: (letter) => (letter.day ? long(letter.day) : instant(letter.madeAt)),
    title: undefined,
  }),
];

/** Everything that went to clients: what, to whom, by which way, and what became of it. */
export function LettersDesk() {
  const [search, setSearch] = useSearchParams();
  const kind = (search.get("kind") ?? "") as Kind;
  const state = (search.get("state") ?? "") as State;
  const client = Number(search.get("client") ?? 0);
  const letters = useRead(
    "/api/deliveries",
    { query: { client, kind, state, offset: 0, limit: most } },
    { keeps: true, every: 10_000 },
  );
  const rows = letters.data?.letters ?? [];
  const counts = letters.data?.counts ?? {};
  const all = Object.values(counts).reduce((sum, n) => sum + n, 0);
  const list = useList({
    name: "letters",
    rows,
    columns,
    id: (letter) => `${letter.id} ${letter.mailId}`,
    text: (letter) => `${letter.number} ${letter.subject} ${letter.client} ${letter.to} ${letter.mail}`,
  });
  const say = (change: { kind?: Kind; state?: State }) => {
    const kept = Object.entries({ kind, state, client: client || "", ...change }).filter(([, value]) => value);
    setSearch(Object.fromEntries(kept.map(([name, value]) => [name, String(value)])));
  };
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>Letters</Title>
        <Sentence>
          Show <SaidChoice label="What they bring" value={kind} choices={kinds} onChange={(kind) => say({ kind })} />{" "}
          that{" "}
          <SaidChoice
            label="What became of them"
            value={state}
            choices={[
              { value: "" as State, label: `went out or will, ${all}` },
              ...states.map((value) => ({
                value,
                label: `stands as ${stateWords[value as never]}, ${counts[value] ?? 0}`,
              })),
            ]}
            onChange={(state) => say({ state })}
          />
          {client > 0 && rows[0] && <> to {rows[0].client}</>}, the latest first
        </Sentence>
        <List
          main
          label="Letters"
          list={list}
          read={letters}
          empty={<p>No letter is like this. Hand an invoice over, and it stands here.</p>}
        />
      </div>
      <Folio label="Letter">{list.row && <LetterFolio letter={list.row} />}</Folio>
      <Tally of={letters} actions={<Link to="/mails">The stand-in's mailbox</Link>}>
        <TallySum figure={all} what={all > most ? `letters, of which the latest ${most} are here` : "letters"} />
        {(counts.queued ?? 0) > 0 && <TallySum figure={counts.queued} what="on their way" />}
        {(counts.failed ?? 0) > 0 && <TallySum lost figure={counts.failed} what="failed" />}
      </Tally>
    </>
  );
}

function LetterFolio({ letter }: { letter: SentLetter }) {
  const { role } = useSession();
  const back = useAct(() =>
    letter.mailId
      ? api.post("/api/mails/{id}/call-back", { path: { id: letter.mailId } })
      : api.post("/api/deliveries/{id}/call-back", { path: { id: letter.id } }),
  );
  const again = useAct(() => api.post("/api/mails/undelivered/{id}/again", { path: { id: letter.mailId } }));
  const waits = letter.state === "queued";
  return (
    <>
      <p className={deskCss.folioOver}>
        {bringsWords[letter.brings]}, {wayWords[letter.way]}
      </p>
      <h2>{letter.number || letter.subject}</h2>
      <p>
        To {letter.to} {letter.mail && <span className="soft">{letter.mail}</span>}
        {letter.copies && <span className="under">copies to {letter.copies}</span>}
      </p>
      {letter.subject && letter.number && <p>“{letter.subject}”</p>}
      <p>
        <Stands letter={letter} />
        {letter.sentAt && <span className="under">taken by the mail server {instant(letter.sentAt)}</span>}
        {letter.nextAt && <span className="under">tried again {instant(letter.nextAt)}</span>}
        {letter.person && <span className="under">sent by {letter.person}</span>}
      </p>
      {letter.problem && <p className={deskCss.findingBox}>{letter.problem}</p>}
      <Refused by={back.error ?? again.error} />
      <p className={formCss.ending}>
        {letter.invoiceId > 0 && <Link to={`/billing/${letter.invoiceId}`}>Open {letter.number.split(",")[0]}</Link>}{" "}
        {role === "administrator" && waits && <Do onClick={() => back.mutate()}>Call it back</Do>}{" "}
        {role === "administrator" && letter.mailId > 0 && (letter.state === "failed" || (waits && letter.problem)) && (
          <Do onClick={() => again.mutate()}>Try it again now</Do>
        )}
      </p>
    </>
  );
}
