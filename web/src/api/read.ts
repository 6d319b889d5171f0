import { type QueryClient, type QueryFilters, type UseQueryOptions, useQuery } from "@tanstack/react-query";
import { type AddressOf, type Answered, type Asked, api, type Given } from "./client";

/** How something is read. */
export interface Reading {
  /** Only when this holds. */
  when?: boolean;
  /** What was read before stays until what is asked now has come: the same list under other filters. */
  keeps?: boolean | "of the same path";
  /** Again after so many milliseconds. */
  every?: number;
  /** Answers hold so long, in milliseconds; acts that change no records of the set-up leave them. */
  holds?: number;
}

const plain: Reading = {};

/** The key under which an answer is kept: what was asked. */
export const keyOf = <P extends AddressOf<"get">>(address: P, asked?: Asked<"get", P>) =>
  asked ? [address, asked] : [address];

const pathIn = (key: readonly unknown[]) => JSON.stringify((key[1] as { path?: unknown } | undefined)?.path);

const options = ({ when, keeps, every, holds }: Reading, key: readonly unknown[]) => ({
  enabled: when ?? true,
  placeholderData: (before: unknown, query?: { queryKey: readonly unknown[] }) =>
    keeps === true || (keeps && query && pathIn(query.queryKey) === pathIn(key)) ? before : undefined,
  refetchInterval: every ?? (false as const),
  staleTime: holds ?? 5_000,
  meta: { holds: holds !== undefined },
});

/** Reads from the server. */
export const reading = <P extends AddressOf<"get">>(address: P, asked?: Asked<"get", P>, how = plain) =>
  ({
    queryKey: keyOf(address, asked),
    queryFn: () => api.get(address, ...([asked] as unknown as Given<Asked<"get", P>>)),
    ...options(how, keyOf(address, asked)),
  }) as UseQueryOptions<Answered<"get", P>>;

/** Reads from the server, and again when an act may have changed it. */
export const useRead = <P extends AddressOf<"get">>(address: P, asked?: Asked<"get", P>, how = plain) =>
  useQuery(reading(address, asked, how));

/** Asks what something typed would come to: a question with a body, that changes nothing. */
export const useAsked = <P extends AddressOf<"post">>(address: P, asked: Asked<"post", P>, how = plain) =>
  useQuery<Answered<"post", P>>({
    queryKey: [address, asked],
    queryFn: () => api.post(address, ...([asked] as unknown as Given<Asked<"post", P>>)),
    ...options(how, [address, asked]),
  } as never);

let followed = false;

/** Says whether the page hears of changes: then the rail is read again when it does, not after each act. */
export const followChanges = (on: boolean) => {
  followed = on;
};

/**
 * Everything that is shown is read again: no list can be forgotten. What is not shown is forgotten, so that a desk that
 * is opened next can't be acted on as it was before. What holds for a while is left, but where records of the set-up
 * change, which anything may name.
 */
export const readAgain = (queries: QueryClient, records = false) => {
  const touched: QueryFilters = {
    predicate: ({ meta, queryKey }) =>
      (records || (!meta?.holds && queryKey[0] !== "/api/session")) && !(followed && queryKey[0] === "/api/rail"),
  };
  queries.removeQueries({ ...touched, type: "inactive" });
  return queries.invalidateQueries(touched);
};
