import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";

export type Standing = Schema["ClientStanding"];
export type Overview = Schema["ClientOverview"];

export const useClients = () => useRead("/api/clients");

export const useClient = (id: number) => useRead("/api/clients/{id}", { path: { id } }, { when: id > 0 });

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
