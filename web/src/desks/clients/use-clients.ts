import type { Schema } from "../../api/client";
import { reading, useRead } from "../../api/read";
import { usePages } from "../../frame/list/use-pages";

export type Standing = Schema["ClientStanding"];
export type Overview = Schema["ClientOverview"];

export type ClientList = Schema["ClientList"];

/** Which clients are asked for, and in which order. */
export interface Asked {
  standing: string;
  status: string;
  industry: string;
  text: string;
  by: string;
  down: boolean;
}

/** Clients, read as they come into sight; `open` is the one that the address says when the list opens. */
export const useClientPages = (asked: Asked, open: number) =>
  usePages<ClientList, Standing>(
    (part) => reading("/api/clients", { query: { ...asked, open, ...part } }, { keeps: true }),
    (page) => page.clients,
  );

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
