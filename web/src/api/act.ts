import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import type { AddressOf, Answered, Asked } from "./client";
import { Problem } from "./client";
import { keyOf, readAgain } from "./read";

/** What follows from an act. */
export interface Following<I, R> {
  /** What the page does when it is done. */
  done?: (result: R, input: I) => void;
  /** What the page does when it was refused or failed. */
  failed?: (problem: Error, input: I) => void;
  /** Takes it back. */
  undo?: (result: R) => Promise<unknown>;
  /** The act is done when this was read again: until then it is pending. */
  until?: AddressOf<"get">;
  /** It changes records of the set-up, which anything may name. */
  records?: boolean;
  /** Acts of one queue are done one after the other. */
  queue?: string;
  /** It changes nothing that is shown: it checks, or mails a code. */
  changesNothing?: boolean;
}

/** Somebody else was first: it is gone, or is not as it was seen. */
const overtaken = new Set([404, 409, 412]);

/** An answer that is what would be read at an address: it is shown at once. */
export const shows = <P extends AddressOf<"get">>(
  queries: QueryClient,
  address: P,
  asked: Asked<"get", P>,
  answer: Answered<"get", P>,
) => queries.setQueryData(keyOf(address, asked), answer as never);

/**
 * An act: what is pending, what was refused and in which field, how it is taken back. The key of its try goes along by
 * itself. Whatever it may have changed is read again, also when somebody else was first: what they did is shown beside
 * the sentence.
 */
export function useAct<I = void, R = unknown>(ask: (input: I) => Promise<R>, following: Following<I, R> = {}) {
  const queries = useQueryClient();
  const again = () => {
    if (following.changesNothing) return;
    const all = readAgain(queries, following.records);
    return following.until ? queries.invalidateQueries({ queryKey: [following.until] }) : void all;
  };
  const act = useMutation({
    mutationFn: ask,
    scope: following.queue ? { id: following.queue } : undefined,
    onSuccess: (result, input) => {
      following.done?.(result, input);
      return again();
    },
    onError: (problem, input) => {
      following.failed?.(problem, input);
      if (problem instanceof Problem && overtaken.has(problem.status)) again();
    },
  });
  const undo = useMutation({
    mutationFn: (result: R) => following.undo?.(result) ?? Promise.resolve(),
    onSettled: () => again(),
  });
  return Object.assign(act, { undo, field: act.error instanceof Problem ? act.error.field : undefined });
}
