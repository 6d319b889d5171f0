import { useQuery } from "@tanstack/react-query";
import { api, of, type Schema } from "../../api/client";

export type Standing = Schema["ClientStanding"];
export type Overview = Schema["ClientOverview"];

export const useClients = () => useQuery({ queryKey: ["clients"], queryFn: () => of(api.GET("/api/clients")) });

export const useClient = (id: number) =>
  useQuery({
    queryKey: ["clients", id],
    queryFn: () => of(api.GET("/api/clients/{id}", { params: { path: { id } } })),
    enabled: id > 0,
  });

/** The stages of an engagement in words. */
export const stageWords: Record<string, string> = {
  not_started: "not started",
  running: "running",
  finished: "finished",
  closed: "closed",
};

export const arrangementWords: Record<string, string> = {
  hourly: "Hourly",
  capped: "Hourly, capped",
  fixed: "Fixed fee",
  recurring: "Recurring fee",
  non_billable: "Non-billable",
};
