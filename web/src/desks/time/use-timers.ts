import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, of, type Schema } from "../../api/client";

export type Timer = Schema["Timer"];
export type TypedTimer = Schema["TypedTimer"];

/** One's own timers, as the server counts them; their value is asked anew every half minute. */
export const useTimers = () =>
  useQuery({
    queryKey: ["timers"],
    queryFn: () => of(api.GET("/api/timers")),
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
  const queries = useQueryClient();
  const counted = () => queries.invalidateQueries({ queryKey: ["timers"] });
  const start = useMutation({
    mutationFn: (typed: TypedTimer) => of(api.POST("/api/timers", { body: typed })),
    onSuccess: () => {
      return counted();
    },
  });
  const pause = useMutation({
    mutationFn: (id: number) => of(api.POST("/api/timers/{id}/pause", { params: { path: { id } } })),
    onSuccess: counted,
  });
  const resume = useMutation({
    mutationFn: (id: number) => of(api.POST("/api/timers/{id}/resume", { params: { path: { id } } })),
    onSuccess: counted,
  });
  const change = useMutation({
    mutationFn: ({ id, typed }: { id: number; typed: TypedTimer }) =>
      of(api.PUT("/api/timers/{id}", { params: { path: { id } }, body: typed })),
    onSuccess: counted,
  });
  const stop = useMutation({
    mutationFn: (id: number) => of(api.POST("/api/timers/{id}/stop", { params: { path: { id } } })),
    onSuccess: () => {
      for (const key of ["rail", "history", "unbilled", "work"]) queries.invalidateQueries({ queryKey: [key] });
      queries.invalidateQueries({ queryKey: ["week"] });
      return counted();
    },
  });
  const discard = useMutation({
    mutationFn: (id: number) => of(api.DELETE("/api/timers/{id}", { params: { path: { id } } })),
    onSuccess: counted,
  });
  const problem = [start, pause, resume, change, stop, discard].find((act) => act.error)?.error ?? null;
  return { start, pause, resume, change, stop, discard, problem };
}
