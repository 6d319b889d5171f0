import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { shows, useAct } from "../../api/act";
import { api, Problem, type Schema } from "../../api/client";
import { useAsked, useRead } from "../../api/read";

export type Proposal = Schema["Proposal"];
export type Typed = Schema["TypedProposal"];
export type TypedLine = Schema["TypedLine"];
export type Grid = Schema["Grid"];

const path = (id: number) => ({ path: { id } });

export const useProposals = (client = 0) => useRead("/api/proposals", { query: { client } });

export const useProposal = (id: number) => useRead("/api/proposals/{id}", path(id));

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
  const saving = useAct(
    (body: Typed) => api.put("/api/proposals/{id}", { path: { id }, query: { version: version.current }, body }),
    {
      queue: `proposal-${id}`,
      done: (saved) => {
        waiting.current--;
        version.current = saved.version;
        setFault(undefined);
        if (waiting.current === 0) {
          put(saved.grid.typed);
          setFigures(undefined);
        }
        shows(queries, "/api/proposals/{id}", { path: { id } }, saved);
      },
      failed: (error) => {
        waiting.current--;
        setFault(faultOf(error));
      },
    },
  );
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
        setFigures(await api.post("/api/proposals/{id}/price", { ...path(id), body: change(latest.current) }));
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

const bareNumber = /^(optional\s+)?([\d.,' ]+)$/;

/** The cells of a line of fixed prices with these said as prices, so that no other way of pricing takes one for hours. */
export const asPrices = (line: TypedLine) =>
  line.kind === "fixed" ? line.cells.map((cell) => cell.replace(bareNumber, "$1at $2")) : line.cells;

/** Says in words how a line is priced, and when it is billed. */
export const saying = (at: number, said: string) => (now: Typed) => ({
  ...now,
  lines: now.lines.map((line, i) => (i === at ? { ...line, said, cells: asPrices(line) } : line)),
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
  const queries = useQueryClient();
  const shown = (view: Proposal) => {
    shows(queries, "/api/proposals/{id}", path(id), view);
  };
  return {
    send: useAct((body: Schema["Sending"]) => api.post("/api/proposals/{id}/sendings", { ...path(id), body })),
    withdraw: useAct(
      (body: { version: number; reason: string }) => api.post("/api/proposals/{id}/withdrawal", { ...path(id), body }),
      { done: shown },
    ),
    endLinks: useAct(() => api.delete("/api/proposals/{id}/links", path(id))),
    record: useAct((body: Schema["ByHand"]) => api.post("/api/proposals/{id}/acceptance", { ...path(id), body }), {
      done: shown,
    }),
    copy: useAct((body: Schema["Copying"]) => api.post("/api/proposals/{id}/copies", { ...path(id), body })),
    drop: useAct((version: number) => api.delete("/api/proposals/{id}", { path: { id }, query: { version } })),
    restore: useAct(
      ({ version, draft }: { version: number; draft: number }) =>
        api.post("/api/proposals/{id}/versions/{draft}", { path: { id, draft }, query: { version } }),
      { done: shown },
    ),
    pass: useAct(
      (body: { passingId: number; version: number; yes: boolean }) =>
        api.post("/api/proposals/{id}/passings", { ...path(id), body }),
      { done: shown },
    ),
    answer: useAct(
      (body: { questionId: number; version: number; text: string }) =>
        api.post("/api/proposals/{id}/answers", { ...path(id), body }),
      { done: shown },
    ),
  };
}

export const useCalendar = (id: number, _version: number, tier: number, everything: boolean) =>
  useRead("/api/proposals/{id}/calendar", { path: { id }, query: { tier, everything } }, { keeps: true });

export const usePage = (id: number, _version: number, chosen: Schema["Chosen"] | undefined) =>
  useAsked("/api/proposals/{id}/page", { ...path(id), body: { chosen } }, { keeps: true });

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

/** The tiers of a proposal, by their places. */
export const tierChoices = (tiers: { name: string }[]) =>
  tiers.map((tier, at) => ({ value: at, label: tier.name || `tier ${at + 1}` }));
