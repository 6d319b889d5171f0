import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { readAgain, useAsked, useRead } from "../../api/read";
import { useJob } from "../../frame/job";
import { asUsual } from "../letters/use-letters";

export type Handing = Schema["Handing"];
export type Letter = Schema["Letter"];
export type Claim = Schema["Claim"];

export const useDelivery = (id: number) => useRead("/api/invoices/{id}/delivery", { path: { id } });

export const useClaims = (id: number, when: boolean) =>
  useRead("/api/invoices/{id}/claims", { path: { id } }, { when });

export const useClientsPage = (id: number, on: string) =>
  useRead("/api/invoices/{id}/page", { path: { id }, query: { on } }, { keeps: true });

/** What is done to hand one invoice over. */
export function useDeliveryActs(id: number) {
  const path = { id };
  return {
    callBack: useAct((delivery: number) => api.post("/api/deliveries/{id}/call-back", { path: { id: delivery } })),
    link: useAct((name: string) => api.post("/api/invoices/{id}/links", { path, body: { name } })),
    endLinks: useAct(() => api.delete("/api/invoices/{id}/links", { path })),
    posted: useAct((day: string) => api.post("/api/deliveries/posted", { body: { ids: [id], day } })),
    answer: useAct(({ claim, body }: { claim: number; body: Schema["Answering"] }) =>
      api.post("/api/invoices/{id}/claims/{claim}/answer", { path: { id, claim }, body }),
    ),
  };
}

/** What is done to hand many over. */
export function useManyDeliveries() {
  const queries = useQueryClient();
  const stopped = useCallback(() => {
    readAgain(queries);
  }, [queries]);
  const job = useJob(stopped);
  const send = useAct((ids: number[]) => api.post("/api/deliveries", { body: { ids, sending: asUsual } }), {
    done: job.begin,
  });
  const posted = useAct(({ ids, day }: { ids: number[]; day: string }) =>
    api.post("/api/deliveries/posted", { body: { ids, day } }),
  );
  return { job, send, posted };
}

export const useLetters = (ids: number[]) =>
  useAsked("/api/deliveries/preview", { body: { ids, sending: asUsual } }, { when: ids.length > 0 });

/** How far an invoice has come to its client, in words. */
export const handedWords: Record<string, string> = {
  "": "not yet",
  queued: "on its way",
  taken: "sent",
  arrived: "arrived",
  failed: "failed",
  posted: "posted",
  saved: "by hand",
  opened: "opened",
  fetched: "file fetched",
  before: "",
};

/** What has left the house is credited, not reopened. */
export const mayReopen = ({ handed }: { handed: string }) => ["", "queued", "failed", "before"].includes(handed);
