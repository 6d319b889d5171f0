import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, of, type Schema } from "../../api/client";
import { refresh } from "../billing/use-billing";

export type Outstanding = Schema["Outstanding"];
export type ClientOwes = Schema["ClientOwes"];
export type Payment = Schema["Payment"];
export type ClientFunds = Schema["ClientFunds"];
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

export const useFundsHeld = (client: number) =>
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

/** One act on money; everything that it may have changed is read again. */
export function useMoneyAct<T>() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (ask: () => Promise<T>) => ask(),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: ["invoice"] });
      refresh(queries);
    },
  });
}

/** The acts on money. */
export const acts = {
  receive: (body: Schema["TypedPayment"]) => () => of(api.POST("/api/payments", { body })),
  reverse: (id: number, reason: string) => () =>
    of(
      api.POST("/api/payments/{id}/reversal", {
        params: { path: { id } },
        body: { reason },
      }),
    ),
  hold: (body: Schema["TypedFunds"]) => () => of(api.POST("/api/funds", { body })),
  applyAll: (id: number) => () =>
    of(
      api.POST("/api/clients/{id}/funds-applied", {
        params: { path: { id } },
      }),
    ),
  refund: (id: number, amount: string, day: string) => () =>
    of(
      api.POST("/api/funds/{id}/refunds", {
        params: { path: { id } },
        body: { amount, day },
      }),
    ),
  putCredit: (id: number) => () =>
    of(
      api.POST("/api/invoices/{id}/credit-used", {
        params: { path: { id } },
        body: { amount: "" },
      }),
    ),
  takeBack: (id: number) => () => of(api.POST("/api/invoices/{id}/taken-back", { params: { path: { id } } })),
  mark: (ids: number[], made: boolean) => () => of(api.PUT("/api/transfers", { body: { ids, made } })),
  request: (body: Schema["TypedRequest"]) => () => of(api.POST("/api/deposits", { body })),
  withdraw: (id: number, version: number) => () =>
    of(api.POST("/api/deposits/{id}/withdrawal", { params: { path: { id }, query: { version } } })),
  advance: (charge: number) => () => of(api.POST("/api/deposits/{charge}/advance", { params: { path: { charge } } })),
  open: (body: Schema["TypedOpening"]) => () => of(api.POST("/api/opening-balances", { body })),
};
