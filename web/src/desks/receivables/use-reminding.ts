import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { readAgain, useRead } from "../../api/read";
import { useJob } from "../../frame/job";

export type ToRemind = Schema["ToRemind"];
export type ToCall = Schema["ToCall"];
export type Outcome = Schema["Calling"]["outcome"];
export type Dealt = Schema["DealtAbout"];

export const useReminders = () => useRead("/api/reminders");

export const useCalls = () => useRead("/api/calls");

export const useDealings = (client: number) =>
  useRead("/api/clients/{id}/dealings", { path: { id: client } }, { when: client > 0 });

const accountOf = ({ clientId, entityId, currency }: ToRemind) => ({ clientId, entityId, currency });

/** Letters to many, sent in one job. */
function useSendMany<I>(ask: (input: I) => Promise<Schema["Job"]>) {
  const queries = useQueryClient();
  const stopped = useCallback(() => {
    readAgain(queries);
  }, [queries]);
  const job = useJob(stopped);
  return { job, send: useAct(ask, { done: job.begin }) };
}

/** The letters of plans. */
export const useSendReminders = () =>
  useSendMany((rows: ToRemind[]) => api.post("/api/reminders", { body: { accounts: rows.map(accountOf) } }));

/** Statements of account, to clients that owe something. */
export const useSendStatements = () =>
  useSendMany((rows: Schema["ClientOwes"][]) =>
    api.post("/api/statements", {
      body: { accounts: rows.map((r) => ({ clientId: r.clientId, entityId: 0, currency: r.total.currency })) },
    }),
  );

export const usePreviewReminder = () =>
  useAct((row: ToRemind) => api.post("/api/reminders/preview", { body: accountOf(row) }), { changesNothing: true });

export const useHold = () =>
  useAct((body: Partial<Schema["Holding"]> & { reason: string }) =>
    api.post("/api/reminder-holds", { body: { clientId: 0, invoiceId: 0, ...body } }),
  );

export const useLift = () => useAct((id: number) => api.delete("/api/reminder-holds/{id}", { path: { id } }));

export const useRecordCall = () =>
  useAct((call: Partial<Schema["Calling"]> & { clientId: number; outcome: Outcome }) =>
    api.post("/api/calls", { body: { with: "", text: "", ...call } }),
  );
