import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { api, of, Problem, type Schema } from "../../api/client";
import { useSession } from "../../api/session";

export type Week = Schema["Week"];
export type WeekRow = Schema["WeekRow"];
export type Entry = Schema["Entry"];
export type TypedEntry = Schema["TypedEntry"];
export type Treatment = Entry["treatment"];

/** The week and person in the address. */
export function useWeekAddress() {
  const session = useSession();
  const [search, setSearch] = useSearchParams();
  const day = search.get("week") ?? session.today;
  const person = Number(search.get("person") ?? session.personId);
  const entry = Number(search.get("entry") ?? 0);
  const rows = search.get("rows") ?? "last";
  const go = (change: Record<string, string>) => {
    const { entry: _, ...rest } = Object.fromEntries(search);
    setSearch({ ...rest, ...change });
  };
  return { day, person, entry, rows, go };
}

export const useWeek = (person: number, day: string) =>
  useQuery({
    queryKey: ["week", person, day],
    queryFn: () => of(api.GET("/api/people/{id}/weeks/{day}", { params: { path: { id: person, day } } })),
    placeholderData: (before) => before,
  });

export const useChoices = () =>
  useQuery({ queryKey: ["choices"], queryFn: () => of(api.GET("/api/choices")), staleTime: 60_000 });

/** What typed input would be worth, while it is typed. */
export function useWorth(typed: TypedEntry | null, entry = 0) {
  return useQuery({
    queryKey: ["worth", entry, typed],
    queryFn: () => of(api.POST("/api/time-entries/value", { params: { query: { entry } }, body: typed as TypedEntry })),
    enabled: typed !== null && (typed.worked.trim() !== "" || Boolean(typed.ended) || Boolean(typed.flat)),
    staleTime: 60_000,
  });
}

/** Saving, changing and removing entries; what depends on them is read again. */
export function useRecord() {
  const queries = useQueryClient();
  /** Done when the week is read again, so that no cell shows what it was before. */
  const refresh = () => {
    for (const key of ["rail", "history", "unbilled", "work", "weeks", "entry-files"])
      queries.invalidateQueries({ queryKey: [key] });
    return queries.invalidateQueries({ queryKey: ["week"] });
  };
  // Refused because somebody else was first: what they did is read, what was typed stays.
  const onError = (problem: Error) => problem instanceof Problem && problem.status === 409 && refresh();
  const save = useMutation({
    mutationFn: ({ entry, typed }: { entry?: Entry; typed: TypedEntry }) =>
      entry
        ? of(
            api.PUT("/api/time-entries/{id}", {
              params: { path: { id: entry.id }, query: { version: entry.version } },
              body: typed,
            }),
          )
        : of(api.POST("/api/time-entries", { body: typed })),
    onSuccess: () => {
      return refresh();
    },
    onError,
  });
  const remove = useMutation({
    mutationFn: (entry: Entry) =>
      of(
        api.DELETE("/api/time-entries/{id}", { params: { path: { id: entry.id }, query: { version: entry.version } } }),
      ),
    onSuccess: refresh,
    onError,
  });
  const bringBack = useMutation({
    mutationFn: (entry: Entry) =>
      of(
        api.POST("/api/time-entries/{id}/return", {
          params: { path: { id: entry.id }, query: { version: entry.version } },
        }),
      ),
    onSuccess: refresh,
  });
  return { save, remove, bringBack };
}
