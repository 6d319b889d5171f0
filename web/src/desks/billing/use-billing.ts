import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useActKeys } from "../../api/act-keys";
import { api, keyHeader, of, type Schema } from "../../api/client";

export type Summary = Schema["Summary"];
export type Invoice = Schema["Invoice"];
export type Line = Schema["Line"];

export const useDrafts = () => useQuery({ queryKey: ["drafts"], queryFn: () => of(api.GET("/api/drafts")) });

export const useRegister = (client: number) =>
  useQuery({
    queryKey: ["register", client],
    queryFn: () => of(api.GET("/api/invoices", { params: { query: { client } } })),
  });

export const useInvoice = (id: number) =>
  useQuery({
    queryKey: ["invoice", id],
    queryFn: () => of(api.GET("/api/invoices/{id}", { params: { path: { id } } })),
    enabled: id > 0,
  });

const refresh = (queries: QueryClient) => {
  for (const key of ["drafts", "register", "rail", "history", "unbilled", "week"])
    queries.invalidateQueries({ queryKey: [key] });
};

/** Everything that can be done to a draft; each act knows which version it was meant for. */
export function useDraftActs(invoice: Invoice) {
  const queries = useQueryClient();
  const keys = useActKeys();
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
  const setTerms = useMutation({
    mutationFn: (body: Schema["TermsChange"]) =>
      of(api.PUT("/api/invoices/{id}/terms", { params: { path, query }, body })),
    onSuccess,
    onError,
  });
  const issue = useMutation({
    mutationFn: () =>
      of(
        api.POST("/api/invoices/{id}/issue", {
          params: { path, query, header: keyHeader(keys.keyOf([invoice.id, invoice.version])) },
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
  return { takeOut, putOn, setText, setTerms, issue, remove };
}
