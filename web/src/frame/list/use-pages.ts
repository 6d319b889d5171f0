import { type UseQueryOptions, useQueries } from "@tanstack/react-query";
import { useCallback, useState } from "react";

export const pageSize = 100;

/** How a page of a long list is asked for. */
type Ask<P> = (part: { offset: number; limit: number }) => UseQueryOptions<P>;

/**
 * A long list of the server: its rows are read page by page, a little before they come into sight. The first page is
 * always there; it says how many rows there are and what all of them come to.
 */
export function usePages<P extends { total: number }, R>(ask: Ask<P>, rowsOf: (page: P) => R[]) {
  const [[first, last], setSight] = useState<readonly [number, number]>([0, 1]);
  const pages = [0, ...Array.from({ length: last - first }, (_, i) => first + i).filter((page) => page > 0)];
  const results = useQueries({
    queries: pages.map((page) => ({ ...ask({ offset: page * pageSize, limit: pageSize }), staleTime: 30_000 })),
  });
  // What stays of a list that was asked otherwise has its sums until the new ones are there, but no rows.
  const read = new Map<number, P>();
  for (const [at, { data, isPlaceholderData }] of results.entries()) {
    const page = pages[at];
    if (data && page !== undefined && !isPlaceholderData) read.set(page, data as P);
  }
  const whole = (results[0]?.data as P | undefined) ?? undefined;
  const error = results.find((result) => result.error)?.error ?? null;
  const see = useCallback((from: number, to: number) => {
    const sight = [Math.floor(from / pageSize), Math.max(1, Math.ceil((to + pageSize / 2) / pageSize))] as const;
    setSight((before) => (before[0] === sight[0] && before[1] === sight[1] ? before : sight));
  }, []);
  const at = (index: number): R | undefined => {
    const page = read.get(Math.floor(index / pageSize));
    return page && rowsOf(page)[index % pageSize];
  };
  return {
    /** The first page, with what all of it comes to. */
    whole,
    total: whole?.total ?? 0,
    /** What is shown was asked for otherwise. */
    waits: results[0]?.isPlaceholderData ?? false,
    at,
    see,
    read: {
      data: whole,
      error,
      isPending: !whole && !error,
      refetch: () => Promise.all(results.map((result) => result.refetch())),
    },
  };
}
