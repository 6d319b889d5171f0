import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, of, Problem, type Schema } from "../../api/client";

export type Proposal = Schema["Proposal"];
export type Typed = Schema["TypedProposal"];
export type TypedLine = Schema["TypedLine"];
export type Grid = Schema["Grid"];

const path = (id: number) => ({ params: { path: { id } } });

export const useProposals = (client = 0) =>
  useQuery({
    queryKey: ["proposals", client],
    queryFn: () => of(api.GET("/api/proposals", { params: { query: { client } } })),
  });

export const useProposal = (id: number) =>
  useQuery({ queryKey: ["proposal", id], queryFn: () => of(api.GET("/api/proposals/{id}", path(id))) });

/** What the proposals of the desk, and everything around them, show anew. */
export function useRefresh() {
  const queries = useQueryClient();
  return () => {
    for (const key of ["proposals", "proposal", "proposal-around", "rail", "clients", "client", "records"])
      queries.invalidateQueries({ queryKey: [key] });
  };
}

/** Where a problem belongs, and what it says. */
export interface Fault {
  field: string;
  sentence: string;
}

const typingPause = 140;

/**
 * A proposal while it is edited. What is typed stands in a copy of its own and is saved field by field, in order; what
 * is refused stays where it was typed, with the reason.
 */
export function useEditor(proposal: Proposal) {
  const queries = useQueryClient();
  const latest = useRef(proposal.grid.typed);
  const version = useRef(proposal.version);
  const waiting = useRef(0);
  const [typed, setTyped] = useState(proposal.grid.typed);
  const [fault, setFault] = useState<Fault>();
  const [figures, setFigures] = useState<Grid>();
  const [undo, setUndo] = useState<{ words: string; was: Typed }>();
  const pause = useRef<ReturnType<typeof setTimeout>>(undefined);
  const id = proposal.id;
  const put = (next: Typed) => {
    latest.current = next;
    setTyped(next);
  };
  // Another version, from another hand or from an act, replaces what is shown if nothing waits to be saved.
  useEffect(() => {
    if (waiting.current > 0 || version.current === proposal.version) return;
    version.current = proposal.version;
    latest.current = proposal.grid.typed;
    setTyped(proposal.grid.typed);
    setFigures(undefined);
  }, [proposal.version, proposal.grid.typed]);
  const saving = useMutation({
    scope: { id: `proposal-${id}` },
    mutationFn: (body: Typed) =>
      of(api.PUT("/api/proposals/{id}", { params: { path: { id }, query: { version: version.current } }, body })),
    onSuccess: (saved) => {
      waiting.current--;
      version.current = saved.version;
      setFault(undefined);
      if (waiting.current === 0) {
        put(saved.grid.typed);
        setFigures(undefined);
      }
      queries.setQueryData(["proposal", id], saved);
      for (const key of ["proposals", "proposal-around", "rail"]) queries.invalidateQueries({ queryKey: [key] });
    },
    onError: (error) => {
      waiting.current--;
      setFault(faultOf(error));
    },
  });
  /** Changes what is typed and saves it; what takes something away says so, and can be undone. */
  const commit = (change: (now: Typed) => Typed, words?: string) => {
    clearTimeout(pause.current);
    const next = change(latest.current);
    setUndo(words ? { words, was: latest.current } : undefined);
    put(next);
    waiting.current++;
    saving.mutate(next);
  };
  /** Shows what it would come to, while it is still being typed. */
  const preview = (change: (now: Typed) => Typed) => {
    clearTimeout(pause.current);
    pause.current = setTimeout(async () => {
      try {
        setFigures(await of(api.POST("/api/proposals/{id}/price", { ...path(id), body: change(latest.current) })));
      } catch {
        // Half a word is no mistake yet: it is judged when it is left.
      }
    }, typingPause);
  };
  return { typed, grid: figures ?? proposal.grid, fault, undo, commit, preview, saving: saving.isPending };
}

const faultOf = (error: Error): Fault => ({
  field: error instanceof Problem ? (error.field ?? "") : "",
  sentence: error.message,
});

/** Replaces a part of one line. */
export const inLine = (at: number, part: Partial<TypedLine>) => (now: Typed) => ({
  ...now,
  lines: now.lines.map((line, i) => (i === at ? { ...line, ...part } : line)),
});

/** Replaces what is typed in one cell. */
export const inCell = (at: number, tier: number, text: string) => (now: Typed) => ({
  ...now,
  lines: now.lines.map((line, i) =>
    i === at ? { ...line, cells: line.cells.map((cell, n) => (n === tier ? text : cell)) } : line,
  ),
});

/** Moves a line, with the option that it is. */
export const moveLine = (from: number, to: number) => (now: Typed) => {
  const lines = [...now.lines];
  const [moved] = lines.splice(from, 1);
  if (moved) lines.splice(to, 0, moved);
  return { ...now, lines };
};

export const dropLine = (at: number) => (now: Typed) => ({ ...now, lines: now.lines.filter((_, i) => i !== at) });

/** Adds a tier: a copy of one, or an empty one (-1). */
export const addTier = (from: number) => (now: Typed) => {
  const like = now.tiers[from];
  return {
    ...now,
    tiers: [
      ...now.tiers,
      { name: like ? `${like.name}, copy` : `Tier ${now.tiers.length + 1}`, note: like?.note ?? "" },
    ],
    lines: now.lines.map((line) => ({ ...line, cells: [...line.cells, from < 0 ? "" : (line.cells[from] ?? "")] })),
  };
};

export const dropTier = (at: number) => (now: Typed) => ({
  ...now,
  suggested: now.suggested === at + 1 ? 0 : now.suggested > at + 1 ? now.suggested - 1 : now.suggested,
  tiers: now.tiers.filter((_, i) => i !== at),
  lines: now.lines.map((line) => ({ ...line, cells: line.cells.filter((_, i) => i !== at) })),
});

/** The acts on a proposal, beside typing. */
export function useProposalActs(id: number) {
  const refresh = useRefresh();
  const queries = useQueryClient();
  const shown = (view: Proposal) => {
    queries.setQueryData(["proposal", id], view);
    refresh();
  };
  return {
    send: useMutation({
      mutationFn: (body: Schema["Sending"]) => of(api.POST("/api/proposals/{id}/sendings", { ...path(id), body })),
      onSuccess: refresh,
    }),
    withdraw: useMutation({
      mutationFn: (body: { version: number; reason: string }) =>
        of(api.POST("/api/proposals/{id}/withdrawal", { ...path(id), body })),
      onSuccess: shown,
    }),
    endLinks: useMutation({
      mutationFn: () => of(api.DELETE("/api/proposals/{id}/links", path(id))),
      onSuccess: refresh,
    }),
    record: useMutation({
      mutationFn: (body: Schema["ByHand"]) => of(api.POST("/api/proposals/{id}/acceptance", { ...path(id), body })),
      onSuccess: shown,
    }),
    copy: useMutation({
      mutationFn: (body: Schema["Copying"]) => of(api.POST("/api/proposals/{id}/copies", { ...path(id), body })),
      onSuccess: refresh,
    }),
    drop: useMutation({
      mutationFn: (version: number) =>
        of(api.DELETE("/api/proposals/{id}", { params: { path: { id }, query: { version } } })),
      onSuccess: refresh,
    }),
    restore: useMutation({
      mutationFn: ({ version, draft }: { version: number; draft: number }) =>
        of(api.POST("/api/proposals/{id}/versions/{draft}", { params: { path: { id, draft }, query: { version } } })),
      onSuccess: shown,
    }),
    pass: useMutation({
      mutationFn: (body: { passingId: number; version: number; yes: boolean }) =>
        of(api.POST("/api/proposals/{id}/passings", { ...path(id), body })),
      onSuccess: shown,
    }),
    answer: useMutation({
      mutationFn: (body: { questionId: number; version: number; text: string }) =>
        of(api.POST("/api/proposals/{id}/answers", { ...path(id), body })),
      onSuccess: shown,
    }),
  };
}

export const useCalendar = (id: number, version: number, tier: number, everything: boolean) =>
  useQuery({
    queryKey: ["proposal-around", id, "calendar", version, tier, everything],
    queryFn: () =>
      of(api.GET("/api/proposals/{id}/calendar", { params: { path: { id }, query: { tier, everything } } })),
    placeholderData: (before) => before,
  });

export const usePage = (id: number, version: number, chosen: Schema["Chosen"] | undefined) =>
  useQuery({
    queryKey: ["proposal-around", id, "page", version, chosen],
    queryFn: () => of(api.POST("/api/proposals/{id}/page", { ...path(id), body: { chosen } })),
    placeholderData: (before) => before,
  });

export const stateWords: Record<Proposal["state"], string> = {
  draft: "draft",
  sent: "sent",
  seen: "opened by the client",
  accepted: "accepted",
  declined: "declined",
  withdrawn: "withdrawn",
  superseded: "replaced",
  expired: "expired",
};
