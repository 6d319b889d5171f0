import { clsx } from "clsx";
import { useState } from "react";
import { Link } from "react-router";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { FileChoice } from "../../frame/file-choice";
import { CheckField, ChoiceField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { useSettled } from "../../frame/use-settled";
import { LetterShown } from "./letter-shown";
import {
  type Attach,
  asUsual,
  type Bringing,
  type Handover,
  type Letter,
  useLetterOf,
  useSendLetter,
} from "./use-letters";

const ways: { value: Letter["way"]; label: string }[] = [
  { value: "mail", label: "by mail" },
  { value: "post", label: "by post" },
  { value: "print", label: "printed, given by hand" },
  { value: "download", label: "fetched here" },
];

interface Props {
  of: Bringing;
  title: string;
  onDone: () => void;
}

/** A letter that is about to go out: read first, as it would go untouched. */
export function LetterForm(props: Props) {
  const usual = useLetterOf(props.of, asUsual);
  if (usual.error) return <p className="refusal">{usual.error.message}</p>;
  const letter = usual.data?.[0];
  return letter ? <Opened {...props} usual={letter} /> : null;
}

/** The letter as it will go out while one types: what is changed here holds for this one. */
function Opened({ of, title, usual, onDone }: Props & { usual: Letter }) {
  const send = useSendLetter(of);
  const form = useTyping({
    way: usual.way,
    to: usual.to.map((one) => one.mail).join(", "),
    copies: "",
    subject: "",
    text: "",
    word: "",
    keep: false,
    ...usual.attach,
  });
  const [wording, setWording] = useState(false);
  const [others, setOthers] = useState<Files>([]);
  const { way, to, copies, subject, text, word, keep, pdf, eInvoice, expenses, receipts, enclosure } = form.typed;
  const same = to === usual.to.map((one) => one.mail).join(", ");
  const handover: Handover = {
    way,
    to: same ? "" : to,
    copies,
    subject,
    text,
    word,
    keep,
    attach: { pdf, eInvoice, expenses, receipts, enclosure, others },
  };
  const letter = useLetterOf(of, useSettled(handover, 250)).data?.[0] ?? usual;
  const mailed = way === "mail";
  const ok = mailed ? (letter.stays ? "Mail it, to stay here" : "Mail it") : "Hand it over";
  return (
    <>
      <Form
        inPlace
        label="Hand over"
        title={title}
        act={send}
        ok={ok}
        ready={!letter.problem}
        onOk={() => send.mutate(handover, { onSuccess: onDone })}
        onNo={onDone}
      >
        <ChoiceField of={form} name="way" label="How" options={ways} />
        {way !== usual.way && "invoice" in of && (
          <CheckField of={form} name="keep" label="From now on, for this client" />
        )}
        {mailed && (
          <>
            <TextField of={form} name="to" label="To" wide />
            <TextField of={form} name="copies" label="Copies, besides those of the contacts" />
            <TextField of={form} name="word" label="A word of your own above it" rows={2} wide />
            {"invoice" in of && (
              <>
                <CheckField of={form} name="pdf" label="PDF" />
                <CheckField of={form} name="eInvoice" label="E-invoice, too" />
                <CheckField of={form} name="expenses" label="Statement of expenses" />
                <CheckField of={form} name="receipts" label="Receipts, as one PDF" />
                {usual.attach.enclosure && (
                  <CheckField of={form} name="enclosure" label="The file of ours that goes along" />
                )}
                <Others files={others} onChange={setOthers} />
              </>
            )}
            {wording ? (
              <>
                <TextField of={form} name="subject" label="Subject of this letter" wide />
                <TextField of={form} name="text" label="Text of this letter" rows={9} wide />
              </>
            ) : (
              <p className={formCss.wide}>
                <Do
                  onClick={() => {
                    setWording(true);
                    form.set({ subject: letter.subject, text: letter.template });
                  }}
                >
                  Change its text, for this one
                </Do>{" "}
                or <Link to="/set-up/letter-texts">for all</Link>
              </p>
            )}
          </>
        )}
        {letter.problem && <p className={clsx(deskCss.findingBox, formCss.wide)}>{letter.problem}</p>}
        {mailed && letter.stays && (
          <p className={clsx("soft", formCss.wide)}>
            No mail server is set: the mail stays on this machine, under <Link to="/mails">Mails</Link>.
          </p>
        )}
      </Form>
      {mailed && <LetterShown letter={letter} places={wording} />}
    </>
  );
}

type Files = NonNullable<Attach["others"]>;

/** Files of one's own that go along. */
function Others({ files, onChange }: { files: Files; onChange: (files: Files) => void }) {
  const keep = useAct((file: File) => api.post("/api/files/receipts", { query: { name: file.name }, body: file }), {
    done: ({ digest, name }) => onChange([...files, { digest, name }]),
  });
  return (
    <div className={formCss.wide}>
      {files.map((file) => (
        <p key={file.digest}>
          {file.name} <Do onClick={() => onChange(files.filter((other) => other !== file))}>Leave {file.name} out</Do>
        </p>
      ))}
      <FileChoice
        words="Add a file of your own"
        busy={keep.isPending}
        problem={keep.error}
        onFile={(file) => keep.mutate(file)}
      />
    </div>
  );
}
