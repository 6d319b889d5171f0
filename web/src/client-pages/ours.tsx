import { clsx } from "clsx";
import { type DragEvent, useState } from "react";
import { useAct } from "../api/act";
import { api, type Schema } from "../api/client";
import { useRead } from "../api/read";
import { long } from "../frame/days";
import { Refused } from "../frame/state";
import { Title } from "../frame/title";
import clientCss from "./client.module.css";
import invoiceCss from "./invoice.module.css";

/** The digest of a file, computed here: nothing of the file leaves this machine. */
async function digestOf(file: File) {
  const sum = await crypto.subtle.digest("SHA-256", await file.arrayBuffer());
  return [...new Uint8Array(sum)].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}

/** Where somebody who was sent an invoice finds out whether it is the firm's. */
export function OursPage() {
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
    <main className={clientCss.clientPage}>
      <header>
        <b>{welcome.data?.firm}</b>
      </header>
      <Title of={welcome.data?.firm ?? ""}>Is this invoice ours?</Title>
      <p>
        Choose the PDF that you were sent. It stays on your machine: only its fingerprint, which your browser computes,
        is compared with those of the documents that we issued.
      </p>
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
          The PDF{" "}
          <input
            type="file"
            accept="application/pdf,.pdf"
            onChange={(event) => {
              take(event.target.files);
              event.target.value = ""; // so that the same one can be chosen again
            }}
          />
        </label>
        <p className="soft">or drop it here</p>
      </div>
      <Refused by={ask.error} />
      <div role="status">{ask.data && <Answer known={ask.data} name={name} />}</div>
    </main>
  );
}

function Answer({ known, name }: { known: Schema["Known"]; name: string }) {
  if (known.answer === "not_ours")
    return (
      <section className={clientCss.clientNotice} aria-label="Not ours">
        <h2>Not ours</h2>
        <p>
          “{name}” is no document that {known.firm} issued, or it was changed since. Do not pay it. Call us under a
          number that you know, not one that stands in it.
        </p>
      </section>
    );
  const { number, dated = "", amount, payee, account, open } = known;
  if (known.answer === "replaced")
    return (
      <section className={clientCss.clientNotice} aria-label="Ours, but replaced">
        <h2>Ours, but replaced</h2>
        <p>
          {number} of {long(dated)} over {amount} was ours, and does not hold any more. Do not pay this one: pay what
          took its place, or ask us.
        </p>
      </section>
    );
  return (
    <section className={clsx(clientCss.clientNotice, clientCss.settled)} aria-label="Ours">
      <h2>Ours, as we issued it</h2>
      <p>
        {number} of {long(dated)} over {amount}.{" "}
        {open ? "Something is still to be paid on it" : "Nothing is to be paid on it any more"}
        {open && account && `: to ${payee}, ${account}`}.
      </p>
    </section>
  );
}
