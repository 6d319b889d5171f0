import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";

export type Timer = Schema["Timer"];
export type TypedTimer = Schema["TypedTimer"];

/** One's own timers, as the server counts them; their value is asked anew every half minute. */
export const useTimers = () =>
  useQuery({
    queryKey: ["timers"],
    queryFn: () => api.get("/api/timers"),
    refetchInterval: 30_000,
    refetchOnWindowFocus: true,
  });

/** Seconds since something was read: what a running timer has counted since. */
export function useSecondsSince(readAt: number): number {
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now()), 1_000);
    return () => clearInterval(tick);
  }, []);
  return Math.max(0, Math.floor((now - readAt) / 1_000));
}

/** What is done with timers; stopping one makes entries, so that the week is read again. */
export function useTimerActs() {
  const start = useAct((typed: TypedTimer) => api.post("/api/timers", { body: typed }));
  const pause = useAct((id: number) => api.post("/api/timers/{id}/pause", { path: { id } }));
  const resume = useAct((id: number) => api.post("/api/timers/{id}/resume", { path: { id } }));
  const change = useAct(({ id, typed }: { id: number; typed: TypedTimer }) =>
    api.put("/api/timers/{id}", { path: { id }, body: typed }),
  );
  const stop = useAct((id: number) => api.post("/api/timers/{id}/stop", { path: { id } }));
  const discard = useAct((id: number) => api.delete("/api/timers/{id}", { path: { id } }));
  const problem = [start, pause, resume, change, stop, discard].find((act) => act.error)?.error ?? null;
  return { start, pause, resume, change, stop, discard, problem };
}
