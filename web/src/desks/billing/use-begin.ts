import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, of, type Schema } from "../../api/client";
import { refresh } from "./use-billing";

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
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Beginning) => of(api.POST("/api/invoices", { body })),
    onSuccess: () => {
      refresh(queries);
    },
  });
}

/** What a client has to be billed. */
export const useOffer = (client: number) =>
  useQuery({
    queryKey: ["unbilled", "offer", client],
    queryFn: () => of(api.GET("/api/clients/{id}/offer", { params: { path: { id: client } } })),
    enabled: client > 0,
  });
