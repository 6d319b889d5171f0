import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, of, type Schema } from "../../api/client";

export type Summary = Schema["Summary"];
export type Invoice = Schema["Invoice"];
export type Line = Schema["Line"];

/** What is still to be issued, of one run or of all (0). */
export const useDrafts = (run = 0) =>
  useQuery({
    queryKey: ["drafts", run],
    queryFn: () => of(api.GET("/api/drafts", { params: { query: { run } } })),
    placeholderData: (before) => before,
  });

/** What the register shows: of which client, in which state, in which order. */
export interface Sought {
  client: number;
  state: string;
  order: string;
}

export const useRegister = (sought: Sought) =>
  useQuery({
    queryKey: ["register", sought],
    queryFn: () => of(api.GET("/api/invoices", { params: { query: sought } })),
    placeholderData: (before) => before,
  });

export const useInvoice = (id: number) =>
  useQuery({
    queryKey: ["invoice", id],
    queryFn: () => of(api.GET("/api/invoices/{id}", { params: { path: { id } } })),
    enabled: id > 0,
  });

/** Everything that an act on an invoice or on money may have changed. */
export const refresh = (queries: QueryClient) => {
  for (const key of [
    "drafts",
    "runs",
    "register",
    "rail",
    "history",
    "unbilled",
    "week",
    "owed",
    "funds",
    "client",
    "clients",
  ])
    queries.invalidateQueries({ queryKey: [key] });
};

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
  advance: false,
};

/** The changes of a draft that need no undo of their own: each is asked for as it was seen. */
export const changes = {
  choose: (body: Schema["ChoiceChange"]) => (params: Seen) =>
    of(api.PUT("/api/invoices/{id}/choices", { params, body })),
  date: (body: Schema["Dates"]) => (params: Seen) => of(api.PUT("/api/invoices/{id}/dates", { params, body })),
  addLine: (body: LineTyped) => (params: Seen) => of(api.POST("/api/invoices/{id}/lines", { params, body })),
  changeLine:
    (line: number, body: LineTyped) =>
    ({ path, query }: Seen) =>
      of(api.PUT("/api/invoices/{id}/lines/{line}", { params: { path: { ...path, line }, query }, body })),
  removeLine:
    (line: number) =>
    ({ path, query }: Seen) =>
      of(api.DELETE("/api/invoices/{id}/lines/{line}", { params: { path: { ...path, line }, query } })),
  order: (lineIds: number[]) => (params: Seen) =>
    of(api.PUT("/api/invoices/{id}/order", { params, body: { lineIds } })),
  takeUp: (take: "all" | "time" | "expenses" | "fees", personId: number) => (params: Seen) =>
    of(api.POST("/api/invoices/{id}/taken-up", { params, body: { take, personId } })),
  progress: (engagementId: number, typed: string) => (params: Seen) =>
    of(api.POST("/api/invoices/{id}/progress", { params, body: { engagementId, typed } })),
  charge:
    (charge: number) =>
    ({ path, query }: Seen) =>
      of(api.POST("/api/invoices/{id}/charges/{charge}", { params: { path: { ...path, charge }, query } })),
  takeBack:
    (line: number) =>
    ({ path, query }: Seen) =>
      of(api.POST("/api/invoices/{id}/advances/{line}", { params: { path: { ...path, line }, query } })),
  decide: (portionIds: number[], decision: Schema["Decision"]) => (params: Seen) =>
    of(api.POST("/api/invoices/{id}/decisions", { params, body: { portionIds, decision } })),
  undo:
    (act: number) =>
    ({ path, query }: Seen) =>
      of(api.POST("/api/invoices/{id}/decisions/{act}/undo", { params: { path: { ...path, act }, query } })),
  settle: (finding: Schema["DraftFinding"], act: string) => (params: Seen) =>
    of(
      api.POST("/api/invoices/{id}/findings", {
        params,
        body: { code: finding.code, subjectId: finding.subjectId, act },
      }),
    ),
  reopen: (params: Seen) => of(api.POST("/api/invoices/{id}/reopening", { params })),
  dispute: (reason: string) => (params: Seen) =>
    of(api.PUT("/api/invoices/{id}/dispute", { params, body: { reason } })),
};

/** Everything that can be done to a draft; each act knows which version it was meant for. */
export function useDraftActs(invoice: Invoice) {
  const queries = useQueryClient();
  const path = { id: invoice.id };
  const query = { version: invoice.version };
  const onSuccess = (changed: Invoice) => {
    queries.setQueryData(["invoice", invoice.id], changed);
    refresh(queries);
  };
  // Refused because somebody else was first: what they did is shown beside the sentence.
  const onError = () => {
    queries.invalidateQueries({ queryKey: ["invoice", invoice.id] });
    refresh(queries);
  };
  const takeOut = useMutation({
    mutationFn: (portion: number) =>
      of(api.POST("/api/invoices/{id}/portions/{portion}/take-out", { params: { path: { ...path, portion }, query } })),
    onSuccess,
    onError,
  });
  const putOn = useMutation({
    mutationFn: (portion: number) =>
      of(api.POST("/api/invoices/{id}/portions/{portion}/put-on", { params: { path: { ...path, portion }, query } })),
    onSuccess,
    onError,
  });
  const setText = useMutation({
    mutationFn: ({ line, text }: { line: number; text: string }) =>
      of(
        api.PUT("/api/invoices/{id}/lines/{line}/text", { params: { path: { ...path, line }, query }, body: { text } }),
      ),
    onSuccess,
    onError,
  });
  // Every other change: it is told the invoice as it was seen, and gives it as it is then.
  const change = useMutation({
    mutationFn: (ask: (seen: Seen) => Promise<Invoice>) => ask({ path, query }),
    onSuccess,
    onError,
  });
  const issue = useMutation({
    mutationFn: () =>
      of(
        api.POST("/api/invoices/{id}/issue", {
          params: { path, query },
        }),
      ),
    onSuccess,
    onError,
  });
  const remove = useMutation({
    mutationFn: () => of(api.DELETE("/api/invoices/{id}", { params: { path, query } })),
    onSuccess: () => {
      queries.removeQueries({ queryKey: ["invoice", invoice.id] });
      refresh(queries);
    },
    onError,
  });
  return { takeOut, putOn, setText, change, issue, remove };
}
