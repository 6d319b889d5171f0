import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";

export type Beginning = Schema["Beginning"];

/** An invoice that begins with nothing on it. */
export const nothingBegun: Beginning = {
  clientId: 0,
  engagementId: 0,
  proposalId: 0,
  likeId: 0,
  templateId: 0,
  take: "nothing",
  personId: 0,
};

/** Begins an invoice outside of any run. */
export function useBegin() {
  return useAct((body: Beginning) => api.post("/api/invoices", { body }));
}

/** What a client has to be billed. */
export const useOffer = (client: number) =>
  useRead("/api/clients/{id}/offer", { path: { id: client } }, { when: client > 0 });
