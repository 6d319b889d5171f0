import { lazy, Suspense, useState } from "react";
import { Link } from "react-router";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { instant, long } from "../../frame/days";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";
import { Table } from "../../frame/list/table";
import { SaidDate } from "../../frame/sentence";
import { Stands } from "../letters/stands";
import { about, bringsWords, type SentLetter, wayWords } from "../letters/use-letters";
import { Dealings } from "../receivables/dealings";

const LetterForm = lazy(async () => ({ default: (await import("../letters/letter-form")).LetterForm }));

const shown = 10;

/** What went to a client last, whatever it brought, and what can be sent about its account. */
export function HandedOver({ id }: { id: number }) {
  const { role } = useSession();
  const mayRead = role === "administrator" || role === "owner";
  const [writing, setWriting] = useState<"statement" | "reminder">();
  const letters = useRead(
    "/api/deliveries",
    { query: { client: id, kind: "", state: "", offset: 0, limit: shown } },
    { when: mayRead },
  ).data;
  const rows = letters?.letters ?? [];
  if (!mayRead) return null;
  return (
    <section aria-label="Letters">
      <h2 className="sub">Letters</h2>
      {rows.length > 0 && (
        <Table
          rows={rows}
          id={(letter: SentLetter) => `${letter.id} ${letter.mailId}`}
          columns={[
            {
              name: "Brings",
              names: "light",
              cell: (letter) => (
                <>
                  {letter.invoiceId ? (
                    <Link to={`/billing/${letter.invoiceId}`}>{letter.number}</Link>
                  ) : (
                    letter.number || letter.subject
                  )}
                  <span className="under">{bringsWords[letter.brings]}</span>
                </>
              ),
            },
            { name: "To", cell: (letter) => letter.mail || letter.to },
            { name: "How", cell: (letter) => wayWords[letter.way] },
            { name: "State", cell: (letter) => <Stands letter={letter} /> },
            { name: "When", whole: true, cell: (letter) => (letter.day ? long(letter.day) : instant(letter.madeAt)) },
          ]}
        />
      )}
      <p className={formCss.ending}>
        {rows.length === shown && <Link to={`/letters?client=${id}`}>All letters to them</Link>}{" "}
        <a href={`/api/clients/${id}/statement.pdf`}>Save the statement of account</a>{" "}
        {role === "administrator" && (
          <>
            <Do onClick={() => setWriting("statement")}>Send it</Do>{" "}
            <Do onClick={() => setWriting("reminder")}>Remind of what is late</Do>
          </>
        )}
      </p>
      <AccountOf client={id} />
      {writing && (
        <Suspense>
          <LetterForm
            key={writing}
            of={about(writing, id)}
            title={writing === "statement" ? "Send the statement of account" : "Remind of what is late"}
            onDone={() => setWriting(undefined)}
          />
        </Suspense>
      )}
      <Dealings client={id} mayAct={role === "administrator"} />
    </section>
  );
}

/** The account of a client as movements of a period, to be saved. */
function AccountOf({ client }: { client: number }) {
  const { today } = useSession();
  const [from, setFrom] = useState(`${today.slice(0, 4)}-01-01`);
  const [to, setTo] = useState(today);
  const file = (form: "pdf" | "csv" | "xlsx") =>
    `/api/clients/${client}/statement?${new URLSearchParams({ from, to, form })}`;
  return (
    <p>
      All that moved from <SaidDate label="From" value={from} onChange={setFrom} /> to{" "}
      <SaidDate label="To" value={to} onChange={setTo} />: <a href={file("pdf")}>PDF</a> <a href={file("csv")}>CSV</a>{" "}
      <a href={file("xlsx")}>XLSX</a>
    </p>
  );
}
