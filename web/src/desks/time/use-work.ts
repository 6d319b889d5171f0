import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { reading, useAsked, useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { useAddress } from "../../frame/address";
import { usePages } from "../../frame/list/use-pages";

export type WorkPage = Schema["WorkPage"];
export type Together = Schema["BulkChange"];
export type ExpenseLine = Schema["ExpenseLine"];

/** What is looked for: the one selector of all lists of time and expenses, as it stands in the address. */
export interface Sought {
  of: "time" | "expenses";
  from: string;
  to: string;
  people: string;
  clients: string;
  engagements: string;
  kinds: string;
  states: string;
  text: string;
}

const parts = ["from", "to", "people", "clients", "engagements", "kinds", "states", "text"] as const;

const beginning = "any";

/** The selector in the address; without dates it is this month so far, or what they say is any. */
export function useSought(what: Sought["of"]) {
  const { today } = useSession();
  const { search, change } = useAddress();
  const said = Object.fromEntries(parts.map((part) => [part, search.get(part) ?? ""])) as Omit<Sought, "of">;
  const from = said.from === beginning ? "" : said.from || `${today.slice(0, 4)}-01-01`;
  const sought: Sought = { of: what, ...said, from };
  const by = search.get("by") ?? "";
  // No first day is said, too: it is the beginning.
  const go = (to: Partial<Record<keyof Sought | "by", string>>) =>
    change({ ...to, ...(to.from === "" && { from: beginning }) }, { replace: "text" in to });
  return { sought, by, go };
}

const queryOf = (sought: Sought) => ({
  ...(Object.fromEntries(Object.entries(sought).filter(([, value]) => value !== "")) as unknown as Sought),
});

/** What is sought, read as it comes into sight. */
export const useWorkPages = <R>(sought: Sought, rowsOf: (page: WorkPage) => R[]) =>
  usePages<WorkPage, R>(
    (part) => reading("/api/work", { query: { ...queryOf(sought), ...part } }, { keeps: true }),
    rowsOf,
  );

export const useGroups = (sought: Sought, by: string) =>
  useRead(
    "/api/work/groups",
    {
      query: { ...queryOf(sought), by: by === "person" ? "person" : "client" },
    },
    { when: by !== "", keeps: true },
  );

/** The address from which what is sought is downloaded. */
export const exportAddress = (sought: Sought, form: "csv" | "xlsx") =>
  `/api/work/export?${new URLSearchParams({ ...queryOf(sought), form } as Record<string, string>)}`;

/** The numbers of everything that is sought. */
export const numbersOf = (sought: Sought) => api.get("/api/work/numbers", { query: queryOf(sought) });

/** What a change of many would do, shown before it is done. */
export function usePreview(change: Together | null) {
  return useAsked("/api/work/changes/preview", { body: change as Together }, { when: change !== null, keeps: true });
}

export function useTogether() {
  const change = useAct((asked: Together) => api.post("/api/work/changes", { body: asked }));
  const undo = useAct((id: number) => api.delete("/api/work/changes/{id}", { path: { id } }));
  return { change, undo };
}
