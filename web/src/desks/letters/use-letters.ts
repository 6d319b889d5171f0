import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useAsked } from "../../api/read";

export type Attach = Schema["Attach"];
export type Handover = Schema["Handover"];
export type Letter = Schema["Letter"];
export type SentLetter = Schema["SentLetter"];

/** What a letter brings: an invoice, or something of the client's account. */
export type Bringing = { invoice: number } | { letter: Omit<Schema["Lettering"], "sending"> };

/** As the profile has it. */
export const asUsual: Handover = { way: "", to: "", copies: "", subject: "", text: "", word: "", keep: false };

/** A deposit request by its number, or a statement or reminder by that of its client. */
export const about = (kind: Schema["Lettering"]["kind"], id: number): Bringing => ({
  letter: { kind, id, entityId: 0, currency: "", tone: "" },
});

const noLetter: Omit<Schema["Lettering"], "sending"> = {
  kind: "statement",
  id: 0,
  entityId: 0,
  currency: "",
  tone: "",
};

/** The letter as it would go out. */
export function useLetterOf(of: Bringing, handover: Handover) {
  const id = "invoice" in of ? of.invoice : 0;
  const lettering = "letter" in of ? of.letter : noLetter;
  const ofInvoice = useAsked(
    "/api/invoices/{id}/delivery/preview",
    { path: { id }, body: handover },
    { keeps: true, when: id !== 0 },
  );
  const other = useAsked(
    "/api/letters/preview",
    { body: { ...lettering, sending: handover } },
    { keeps: true, when: id === 0 },
  );
  return id === 0 ? other : ofInvoice;
}

export const useSendLetter = (of: Bringing) =>
  useAct((sending: Handover) =>
    "invoice" in of
      ? api.post("/api/invoices/{id}/delivery", { path: { id: of.invoice }, body: sending })
      : api.post("/api/letters", { body: { ...of.letter, sending } }),
  );

/** How far a delivery has come, in words. */
export const stateWords: Record<SentLetter["state"], string> = {
  queued: "on its way",
  taken: "sent",
  arrived: "arrived",
  failed: "failed",
  called_back: "called back",
  posted: "posted",
  saved: "by hand",
};

export const wayWords: Record<SentLetter["way"], string> = {
  mail: "by mail",
  print: "printed",
  post: "by post",
  download: "by hand",
};

/** What a letter brings, in words. */
export const bringsWords: Record<SentLetter["brings"], string> = {
  invoice: "invoice",
  credit_note: "credit note",
  deposit: "deposit request",
  receipt: "receipt",
  statement: "statement",
  reminder: "reminder",
  proposal: "proposal",
  questionnaire: "questions",
  answer: "answer",
  code: "code",
  word: "word",
};
