import { useQueryClient } from "@tanstack/react-query";
import { shows, useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { tries } from "../../api/tries";

/** What a person has made of a list: which columns they left out, how wide others are, in which order it stands. */
export type Kept = Schema["ListShape"];

const nothing: Kept = { hidden: [], widths: {} };

/** What was changed and is not kept yet: who leaves the page before it is, loses nothing. */
const unsent = new Map<string, Kept>();

window.addEventListener("pagehide", () => {
  for (const [list, body] of unsent)
    void fetch(`/api/account/lists/${encodeURIComponent(list)}`, {
      method: "PUT",
      keepalive: true,
      headers: { "Content-Type": "application/json", "Idempotency-Key": tries.keyOf(`${list} ${Date.now()}`) },
      body: JSON.stringify(body),
    });
});

/** The shape of a list, kept for the person who is signed in, in whichever browser. */
export function useKept(list: string) {
  const session = useSession();
  const queries = useQueryClient();
  // What can't be kept now stays so here until the page is left.
  const send = useAct((body: Kept) => api.put("/api/account/lists/{list}", { path: { list }, body }), {
    queue: "lists",
    changesNothing: true,
  });
  const kept = session.lists[list] ?? nothing;
  const keep = (change: Partial<Kept>) => {
    const next = { ...kept, ...change };
    shows(queries, "/api/session", undefined, { ...session, lists: { ...session.lists, [list]: next } });
    unsent.set(list, next);
    send
      .mutateAsync(next)
      .catch(() => {})
      .finally(() => unsent.get(list) === next && unsent.delete(list));
  };
  return { kept, keep };
}
