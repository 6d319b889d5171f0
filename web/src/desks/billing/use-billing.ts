import { useQueryClient } from "@tanstack/react-query";
import { shows, useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { reading, useRead } from "../../api/read";
import { usePages } from "../../frame/list/use-pages";

export type Summary = Schema["Summary"];
export type Invoice = Schema["Invoice"];
export type Line = Schema["Line"];

/** What is still to be issued, of one run or of all (0). */
export const useDrafts = (run = 0) => useRead("/api/drafts", { query: { run } }, { keeps: true });

/** What the register shows; nothing, or 0, asks for all. */
export const everyInvoice = {
  client: 0,
  engagement: 0,
  lead: 0,
  run: 0,
  state: "",
  handed: "" as "" | keyof Schema["HandedCounts"],
  from: "",
  to: "",
  atLeast: "",
  text: "",
  order: "",
  by: "",
  down: false,
};

export type Sought = typeof everyInvoice;
export type RegisterPage = Schema["RegisterPart"];

/** Invoices are counted, filed and reopened together up to so many. */
export const mostTogether = 2000;

/** The first of what is sought in the register. */
export const useRegister = (sought: Partial<Sought>, when = true, limit = 100) =>
  useRead("/api/invoices", { query: { ...everyInvoice, ...sought, limit } }, { keeps: true, when });

/** What is sought in the register, read as it comes into sight. */
export const useRegisterPages = (sought: Sought) =>
  usePages<RegisterPage, Summary>(
    (part) => reading("/api/invoices", { query: { ...sought, ...part } }, { keeps: true }),
    (page) => page.invoices,
  );

/** All of what is sought. */
export const allOf = (sought: Sought) =>
  api.get("/api/invoices", { query: { ...sought, limit: mostTogether } }).then((page) => page.invoices);

export const useInvoice = (id: number) => useRead("/api/invoices/{id}", { path: { id } }, { when: id > 0 });

/** The invoice that an act is meant for, as it was last seen. */
export interface Seen {
  path: { id: number };
  query: { version: number };
}

export type LineTyped = Schema["LineTyped"];

export const noLine: LineTyped = {
  engagementId: 0,
  text: "",
  quantity: "",
  unit: "",
  price: "",
  amount: "",
  taxCode: "",
  kind: "",
  picture: "",
  advance: false,
};

/** Nothing to be put on a draft. */
export const nothingBack: Schema["Back"] = { portionIds: [], chargeIds: [], lines: [], release: false };

/** The changes of a draft that need no undo of their own: each is asked for as it was seen. */
export const changes = {
  choose: (body: Schema["ChoiceChange"]) => (params: Seen) =>
    api.put("/api/invoices/{id}/choices", { ...params, body }),
  date: (body: Schema["Dates"]) => (params: Seen) => api.put("/api/invoices/{id}/dates", { ...params, body }),
  addLine: (body: LineTyped) => (params: Seen) => api.post("/api/invoices/{id}/lines", { ...params, body }),
  changeLine:
    (line: number, body: LineTyped) =>
    ({ path, query }: Seen) =>
      api.put("/api/invoices/{id}/lines/{line}", { path: { ...path, line }, query, body }),
  setText:
    (line: number, text: string) =>
    ({ path, query }: Seen) =>
      api.put("/api/invoices/{id}/lines/{line}/text", { path: { ...path, line }, query, body: { text } }),
  takeOut: (body: Schema["Rows"]) => (params: Seen) => api.post("/api/invoices/{id}/taken-out", { ...params, body }),
  putOn: (body: Schema["Back"]) => (params: Seen) => api.post("/api/invoices/{id}/put-on", { ...params, body }),
  tax: (body: Schema["TaxTyped"]) => (params: Seen) => api.put("/api/invoices/{id}/tax", { ...params, body }),
  order: (lineIds: number[]) => (params: Seen) => api.put("/api/invoices/{id}/order", { ...params, body: { lineIds } }),
  takeUp: (take: "all" | "time" | "expenses" | "fees", personId: number) => (params: Seen) =>
    api.post("/api/invoices/{id}/taken-up", { ...params, body: { take, personId } }),
  progress: (engagementId: number, typed: string) => (params: Seen) =>
    api.post("/api/invoices/{id}/progress", { ...params, body: { engagementId, typed } }),
  charge: (charge: number) => (params: Seen) => changes.putOn({ ...nothingBack, chargeIds: [charge] })(params),
  takeBack:
    (line: number) =>
    ({ path, query }: Seen) =>
      api.post("/api/invoices/{id}/advances/{line}", { path: { ...path, line }, query }),
  decide: (portionIds: number[], decision: Schema["Decision"]) => (params: Seen) =>
    api.post("/api/invoices/{id}/decisions", { ...params, body: { portionIds, decision } }),
  undo:
    (act: number) =>
    ({ path, query }: Seen) =>
      api.post("/api/invoices/{id}/decisions/{act}/undo", { path: { ...path, act }, query }),
  settle: (finding: Schema["DraftFinding"], act: string) => (params: Seen) =>
    api.post("/api/invoices/{id}/findings", {
      ...params,
      body: { code: finding.code, subjectId: finding.subjectId, act },
    }),
  reopen: (params: Seen) => api.post("/api/invoices/{id}/reopening", params),
  dispute: (reason: string) => (params: Seen) => api.put("/api/invoices/{id}/dispute", { ...params, body: { reason } }),
};

const seenAs = (invoice: Invoice): Seen => ({ path: { id: invoice.id }, query: { version: invoice.version } });

const useShown = (invoice: Invoice) => {
  const queries = useQueryClient();
  const { path } = seenAs(invoice);
  return { done: (changed: Invoice) => shows(queries, "/api/invoices/{id}", { path }, changed) };
};

/** A change of a draft: it is told the invoice as it was seen, and gives it as it is then. */
export const useDraftChange = (invoice: Invoice) =>
  useAct((ask: (seen: Seen) => Promise<Invoice>) => ask(seenAs(invoice)), useShown(invoice));

/** Everything that can be done to a draft; each act knows which version it was meant for. */
export function useDraftActs(invoice: Invoice) {
  const { path, query } = seenAs(invoice);
  const following = useShown(invoice);
  const change = useDraftChange(invoice);
  const issue = useAct(
    (send: boolean) => api.post("/api/invoices/{id}/issue", { path, query: { ...query, send } }),
    following,
  );
  const remove = useAct(() => api.delete("/api/invoices/{id}", { path, query }));
  return { change, issue, remove };
}
