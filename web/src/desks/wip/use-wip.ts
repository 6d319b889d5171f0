import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { useActKeys } from "../../api/act-keys";
import { api, keyHeader, of, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { lastMonthEnd } from "../../frame/days";

export type ClientWork = Schema["ClientWork"];
export type EngagementWork = Schema["EngagementWork"];

const idsIn = (search: URLSearchParams) => new Set((search.get("pick") ?? "").split(",").filter(Boolean).map(Number));

/**
 * The filters and the selection, which live in the address. Changes start from the address itself, not from what was
 * last drawn: a second click may come before the first is drawn.
 */
export function useWipAddress() {
  const { today } = useSession();
  const [search, setSearch] = useSearchParams();
  const number = (name: string) => Number(search.get(name) ?? 0);
  const change = (part: Record<string, string | undefined>) => {
    const next = new URLSearchParams(window.location.search);
    for (const [name, value] of Object.entries(part)) {
      if (value) next.set(name, value);
      else next.delete(name);
    }
    setSearch(next, { replace: true });
  };
  /** Selects all of the given engagements, or leaves them if all were selected. */
  const toggle = (ids: number[]) => {
    const picked = idsIn(new URLSearchParams(window.location.search));
    const all = ids.every((id) => picked.has(id));
    for (const id of ids) all ? picked.delete(id) : picked.add(id);
    change({ pick: [...picked].sort((a, b) => a - b).join(",") });
  };
  return {
    upTo: search.get("upTo") ?? lastMonthEnd(today),
    lead: number("lead"),
    client: number("client"),
    atLeast: search.get("atLeast") ?? "0.00",
    open: number("open"),
    picked: idsIn(search),
    change,
    toggle,
  };
}

export const useUnbilled = (upTo: string, lead: number, client: number, atLeast: string) =>
  useQuery({
    queryKey: ["unbilled", upTo, lead, client, atLeast],
    queryFn: () => of(api.GET("/api/wip", { params: { query: { upTo, lead, client, atLeast } } })),
    placeholderData: (before) => before,
  });

export const useEntries = (id: number, upTo: string) =>
  useQuery({
    queryKey: ["unbilled", "entries", id, upTo],
    queryFn: () => of(api.GET("/api/wip/engagements/{id}", { params: { path: { id }, query: { upTo } } })),
  });

export const useTally = (upTo: string, engagementIds: number[]) =>
  useQuery({
    queryKey: ["unbilled", "tally", upTo, engagementIds],
    queryFn: () => of(api.POST("/api/wip/tally", { body: { upTo, engagementIds } })),
    placeholderData: (before) => before,
  });

/** Making drafts, and taking that back as long as they are as they were made. */
export function useMakeDrafts() {
  const queries = useQueryClient();
  const keys = useActKeys();
  const refresh = () => {
    for (const key of ["unbilled", "rail", "drafts", "history", "invoice"])
      queries.invalidateQueries({ queryKey: [key] });
  };
  const make = useMutation({
    mutationFn: (body: Schema["Selection"]) =>
      of(api.POST("/api/drafts", { params: { header: keyHeader(keys.keyOf(body)) }, body })),
    onSuccess: (_, body) => {
      keys.done(body);
      refresh();
    },
  });
  const undo = useMutation({
    mutationFn: async (made: Schema["Made"][]) => {
      for (const { id } of made) {
        const draft = await of(api.GET("/api/invoices/{id}", { params: { path: { id } } }));
        await of(api.DELETE("/api/invoices/{id}", { params: { path: { id }, query: { version: draft.version } } }));
      }
    },
    onSettled: refresh,
  });
  return { make, undo };
}

export { arrangementWords } from "../clients/use-clients";

/** What should be looked at before an engagement is billed. */
export function findingsOf(work: EngagementWork): { title: string; remedy: string }[] {
  const findings = [];
  if (work.withoutRate > 0)
    findings.push({
      title: `Without a rate: ${work.withoutRate}.`,
      remedy: "These entries stay unbilled until a rate holds for them.",
    });
  if (work.heldEntries > 0)
    findings.push({
      title: `On hold: ${work.heldEntries}.`,
      remedy: "They are not billed until they are released, or their day has come.",
    });
  if (work.oldest > 90)
    findings.push({
      title: "Old work.",
      remedy: `The oldest entry waits ${work.oldest} days. Bill it, or ask its lead why not.`,
    });
  return findings;
}
