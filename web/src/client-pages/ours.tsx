import { clsx } from "clsx";
import { type DragEvent, useState } from "react";
import { useAct } from "../api/act";
import { api, type Schema } from "../api/client";
import { useRead } from "../api/read";
import { dated } from "../frame/days";
import { Refused } from "../frame/state";
import { Title } from "../frame/title";
import clientCss from "./client.module.css";
import invoiceCss from "./invoice.module.css";
import { filled, oursWords } from "./ours-words";

/** The digest of a file, computed here: nothing of the file leaves this machine. */
async function digestOf(file: File) {
  const sum = await crypto.subtle.digest("SHA-256", await file.arrayBuffer());
  return [...new Uint8Array(sum)].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}

/** Where somebody who was sent an invoice finds out whether it is the firm's. */
export function OursPage() {
  const language = navigator.language.slice(0, 2);
  const w = oursWords(language);
  const welcome = useRead("/api/welcome");
  const [name, setName] = useState("");
  const [over, setOver] = useState(false);
  const ask = useAct(
    async (file: File) => {
      setName(file.name);
      return api.post("/api/public/document", { body: { digest: await digestOf(file) } });
    },
    { changesNothing: true },
  );
  const take = (files: FileList | null) => {
    const [file] = files ?? [];
    if (file) ask.mutate(file);
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files);
  };
  return (
    <main className={clientCss.clientPage} lang={language}>
      <header>
        <b>{welcome.data?.firm}</b>
      </header>
      <Title of={welcome.data?.firm ?? ""}>{w.title}</Title>
      <p>{w.how}</p>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the field in it does the same by keyboard */}
      <div
        className={clsx(invoiceCss.drop, over && invoiceCss.over)}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        <label>
          {w.file}{" "}
          <input
            type="file"
            accept="application/pdf,.pdf"
            onChange={(event) => {
              take(event.target.files);
              event.target.value = ""; // so that the same one can be chosen again
            }}
          />
        </label>
        <p className="soft">{w.drop}</p>
      </div>
      <Refused by={ask.error} />
      <div role="status">{ask.data && <Answer known={ask.data} file={name} language={language} />}</div>
    </main>
  );
}

interface AnswerProps {
  known: Schema["Known"];
  file: string;
  language: string;
}

function Answer({ known, file, language }: AnswerProps) {
  const w = oursWords(language);
  const { firm, number = "", amount = "", payee = "", account = "", open } = known;
  const says = (text: string) =>
    filled(text, { file, firm, number, amount, payee, account, day: known.dated ? dated(known.dated, language) : "" });
  if (known.answer === "not_ours") return <Said title={w.not_ours} text={says(w.not_ours_why)} />;
  if (known.answer === "replaced") return <Said title={w.replaced} text={says(w.replaced_why)} />;
  const text = [w.ours_what, open ? w.open : w.closed, open && account ? w.payee : ""].map(says).join(" ");
  return <Said title={w.ours} text={text} settled />;
}

function Said({ title, text, settled }: { title: string; text: string; settled?: boolean }) {
  return (
    <section className={clsx(clientCss.clientNotice, settled && clientCss.settled)} aria-label={title}>
      <h2>{title}</h2>
      <p>{text}</p>
    </section>
  );
}
