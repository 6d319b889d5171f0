import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";

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
  /** As it stood at the end of a day; nothing: as it stands now. */
  on?: string;
}

export const useOwed = ({ on = "", ...asked }: Asked) =>
  useRead("/api/receivables", { query: { ...asked, on } }, { keeps: true });

export const usePayments = (client: number, text = "") =>
  useRead("/api/payments", { query: { client, text } }, { keeps: true });

export const useFundsHeld = (client: number) => useRead("/api/funds", { query: { client } });

export const useCredits = (client: number) => useRead("/api/credits", { query: { client } });

export const useStatement = (id: number) => useRead("/api/funds/{id}/statement", { path: { id } }, { when: id > 0 });

export const useTransfers = (done: boolean) => useRead("/api/transfers", { query: { done } });

export const useDeposits = () => useRead("/api/deposits", { query: { client: 0 } });

export const usePlannedDeposits = (enabled: boolean) => useRead("/api/deposits/planned", undefined, { when: enabled });

/** One act on money. */
export const useMoneyAct = <T>() => useAct((ask: () => Promise<T>) => ask());

/** The acts on money. */
export const acts = {
  receive: (body: Schema["TypedPayment"]) => () => api.post("/api/payments", { body }),
  reverse: (id: number, reason: string) => () =>
    api.post("/api/payments/{id}/reversal", {
      path: { id },
      body: { reason },
    }),
  hold: (body: Schema["TypedFunds"]) => () => api.post("/api/funds", { body }),
  refund: (id: number, amount: string, day: string) => () =>
    api.post("/api/funds/{id}/refunds", {
      path: { id },
      body: { amount, day },
    }),
  putCredit: (id: number) => () =>
    api.post("/api/invoices/{id}/credit-used", {
      path: { id },
      body: { amount: "" },
    }),
  takeBack: (id: number) => () => api.post("/api/invoices/{id}/taken-back", { path: { id } }),
  mark: (ids: number[], made: boolean) => () => api.put("/api/transfers", { body: { ids, made } }),
  request: (body: Schema["TypedRequest"]) => () => api.post("/api/deposits", { body }),
  withdraw: (id: number, version: number) => () =>
    api.post("/api/deposits/{id}/withdrawal", { path: { id }, query: { version } }),
  advance: (charge: number) => () => api.post("/api/deposits/{charge}/advance", { path: { charge } }),
  writeOff: (id: number, body: Schema["GivingUp"]) => () =>
    api.post("/api/invoices/{id}/write-off", { path: { id }, body }),
  oweAgain: (id: number) => () => api.post("/api/invoices/{id}/owed-again", { path: { id } }),
  chargeLate: (body: Schema["ChargingLate"]) => () => api.post("/api/late-charges", { body }),
  waiveLate: (body: Schema["WaivingLate"]) => () => api.post("/api/late-charges/waived", { body }),
  reconcile: (body: Schema["Keeping"]) => () => api.post("/api/bank/reconciliations", { body }),
  refill: (fundsIds: number[]) => () => api.post("/api/funds/refills", { body: { fundsIds } }),
  order: (body: Schema["Ordering"]) => () => api.post("/api/bank/orders", { body }),
  withdrawOrder: (id: number, version: number) => () =>
    api.post("/api/bank/orders/{id}/withdrawal", { path: { id }, body: { version } }),
  payBack: (body: Schema["PayingBack"]) => () => api.post("/api/paid-back", { body }),
  takeBackPaid: (id: number, version: number) => () =>
    api.post("/api/paid-back/{id}/taken-back", { path: { id }, body: { version } }),
  open: (body: Schema["TypedOpening"]) => () => api.post("/api/opening-balances", { body }),
};
