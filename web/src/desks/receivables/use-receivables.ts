import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useActKeys } from "../../api/act-keys";
import { api, keyHeader, of, type Schema } from "../../api/client";
import { refresh } from "../billing/use-billing";

export type Outstanding = Schema["Outstanding"];
export type ClientOwes = Schema["ClientOwes"];
export type Payment = Schema["Payment"];
export type Purse = Schema["Purse"];
export type DepositRequest = Schema["Request"];

/** Which of what is owed is looked at. */
export interface Asked {
  client: number;
  lead: number;
  late: number;
}

export const useOwed = (query: Asked) =>
  useQuery({
    queryKey: ["owed", query],
    queryFn: () => of(api.GET("/api/receivables", { params: { query } })),
    placeholderData: (before) => before,
  });

export const usePayments = (client: number) =>
  useQuery({
    queryKey: ["owed", "payments", client],
    queryFn: () => of(api.GET("/api/payments", { params: { query: { client } } })),
  });

export const usePurses = (client: number) =>
  useQuery({
    queryKey: ["funds", client],
    queryFn: () => of(api.GET("/api/funds", { params: { query: { client } } })),
  });

export const useCredits = (client: number) =>
  useQuery({
    queryKey: ["funds", "credits", client],
    queryFn: () => of(api.GET("/api/credits", { params: { query: { client } } })),
  });

export const useStatement = (id: number) =>
  useQuery({
    queryKey: ["funds", "statement", id],
    queryFn: () => of(api.GET("/api/funds/{id}/statement", { params: { path: { id } } })),
    enabled: id > 0,
  });

export const useTransfers = (done: boolean) =>
  useQuery({
    queryKey: ["funds", "transfers", done],
    queryFn: () => of(api.GET("/api/transfers", { params: { query: { done } } })),
  });

export const useDeposits = () =>
  useQuery({
    queryKey: ["funds", "deposits"],
    queryFn: () => of(api.GET("/api/deposits", { params: { query: { client: 0 } } })),
  });

export const usePlannedDeposits = (enabled: boolean) =>
  useQuery({
    queryKey: ["funds", "planned"],
    queryFn: () => of(api.GET("/api/deposits/planned")),
    enabled,
  });

/** The header that makes an act of some content happen once. */
type Once = (content: unknown) => { "Idempotency-Key": string };

/** One act on money: it happens once, and everything that it may have changed is read again. */
export function useMoneyAct<T>() {
  const queries = useQueryClient();
  const keys = useActKeys();
  return useMutation({
    mutationFn: (ask: (once: Once) => Promise<T>) => ask((content) => keyHeader(keys.keyOf(content))),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: ["invoice"] });
      refresh(queries);
    },
  });
}

/** The acts on money; each is told how to happen once. */
export const acts = {
  receive: (body: Schema["TypedPayment"]) => (once: Once) =>
    of(api.POST("/api/payments", { params: { header: once(["payment", body]) }, body })),
  reverse: (id: number, reason: string) => (once: Once) =>
    of(
      api.POST("/api/payments/{id}/reversal", {
        params: { path: { id }, header: once(["reversal", id, reason]) },
        body: { reason },
      }),
    ),
  hold: (body: Schema["TypedFunds"]) => (once: Once) =>
    of(api.POST("/api/funds", { params: { header: once(["funds", body]) }, body })),
  applyAll: (id: number) => (once: Once) =>
    of(
      api.POST("/api/clients/{id}/funds-applied", {
        params: { path: { id }, header: once(["apply", id, Date.now()]) },
      }),
    ),
  refund: (id: number, amount: string, day: string) => (once: Once) =>
    of(
      api.POST("/api/funds/{id}/refunds", {
        params: { path: { id }, header: once(["refund", id, amount, day]) },
        body: { amount, day },
      }),
    ),
  putCredit: (id: number) => (once: Once) =>
    of(
      api.POST("/api/invoices/{id}/credit-used", {
        params: { path: { id }, header: once(["credit", id, Date.now()]) },
        body: { amount: "" },
      }),
    ),
  takeBack: (id: number) => (once: Once) =>
    of(api.POST("/api/invoices/{id}/taken-back", { params: { path: { id }, header: once(["back", id, Date.now()]) } })),
  mark: (ids: number[], made: boolean) => () => of(api.PUT("/api/transfers", { body: { ids, made } })),
  request: (body: Schema["TypedRequest"]) => (once: Once) =>
    of(api.POST("/api/deposits", { params: { header: once(["request", body]) }, body })),
  withdraw: (id: number, version: number) => () =>
    of(api.POST("/api/deposits/{id}/withdrawal", { params: { path: { id }, query: { version } } })),
  advance: (charge: number) => (once: Once) =>
    of(api.POST("/api/deposits/{charge}/advance", { params: { path: { charge }, header: once(["advance", charge]) } })),
  open: (body: Schema["TypedOpening"]) => (once: Once) =>
    of(api.POST("/api/opening-balances", { params: { header: once(["opening", body]) }, body })),
};
