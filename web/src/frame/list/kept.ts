import { useQueryClient } from "@tanstack/react-query";
import { shows, useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { tries } from "../../api/tries";

/** What a person has made of a list: which columns they left out, how wide others are, in which order it stands. */
export type Kept = Schema["ListShape"];

const nothing: Kept = { hidden: [], widths: {} };

/** Where a page leaves to the next one of the same tab what it could not wait for. */
const left = "dorvet.lists";

/** A shape, and whose it is. */
type Owned = { of: number; shape: Kept };

/** What the page before could not wait for: it was sent, but this page may have been read before it came. */
const before = new Map<string, Owned>(JSON.parse(sessionStorage.getItem(left) ?? "[]"));
sessionStorage.removeItem(left);

/** What a person changed and the server has not said that it keeps: who leaves the page before it does, loses nothing. */
const unsent = new Map<string, Owned>();

window.addEventListener("pagehide", () => {
  if (unsent.size > 0) sessionStorage.setItem(left, JSON.stringify([...unsent]));
  for (const [list, { shape }] of unsent)
    void fetch(`/api/account/lists/${encodeURIComponent(list)}`, {
      method: "PUT",
      keepalive: true,
      headers: { "Content-Type": "application/json", "Idempotency-Key": tries.keyOf(`${list} ${Date.now()}`) },
      body: JSON.stringify(shape),
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
  const mine = unsent.get(list) ?? before.get(list);
  const kept = (mine && mine.of === session.personId ? mine.shape : session.lists[list]) ?? nothing;
  const keep = (changed: Partial<Kept>) => {
    const next = { ...kept, ...changed };
    shows(queries, "/api/session", undefined, { ...session, lists: { ...session.lists, [list]: next } });
    const change = { of: session.personId, shape: next };
    before.delete(list);
    unsent.set(list, change);
    send
      .mutateAsync(next)
      .catch(() => {})
      .finally(() => unsent.get(list) === change && unsent.delete(list));
  };
  return { kept, keep };
}
