import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { reading, useAsked, useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { useAddress } from "../../frame/address";
import { useSought } from "../../frame/use-sought";

export type Week = Schema["Week"];
export type WeekRow = Schema["WeekRow"];
export type Entry = Schema["Entry"];
export type TypedEntry = Schema["TypedEntry"];
export type Treatment = Entry["treatment"];

/** The week and person in the address. */
export function useWeekAddress() {
  const session = useSession();
  const { search, change } = useAddress();
  const day = search.get("week") ?? session.today;
  const person = Number(search.get("person") ?? session.personId);
  const entry = Number(search.get("entry") ?? 0);
  const rows = search.get("rows") ?? "last";
  const go = (to: Record<string, string>) => change({ entry: undefined, ...to }, {});
  return { day, person, entry, rows, go };
}

export const useWeek = (person: number, day: string) =>
  useRead("/api/people/{id}/weeks/{day}", { path: { id: person, day } }, { keeps: true });

export const useChoices = () => useRead("/api/choices", undefined, { holds: 60_000 });

/** Engagements to choose from: one's last ones first, then by client. */
export const useEngagements = (asked: { open?: boolean; clients?: number[] } = {}) =>
  useSought<Schema["Choice"]>((text, when) =>
    reading("/api/choices/engagements", { query: { ...asked, text } }, { when, holds: 60_000, keeps: text === "" }),
  );

/** Engagements by their numbers. */
const useEngagementsOf = (ids: number[]) =>
  useRead("/api/choices/engagements", { query: { ids } }, { when: ids.length > 0, holds: 60_000 });

/** An engagement by its number; none while it is read. */
export const useEngagement = (id = 0) => useEngagementsOf(id > 0 ? [id] : []).data?.[0];

/** The phases on which time of a row of the week can be. */
export const usePhases = (row = "") => useEngagement(Number(row.split("-")[0]))?.phases ?? [];

/** Choices with those that are chosen, whether they are among what is sought or not. */
const withChosen = <T>(chosen: T[] | undefined, sought: T[] | undefined, id: (one: T) => number) => [
  ...new Map([...(sought ?? []), ...(chosen ?? [])].map((one) => [id(one), one])).values(),
];

/** Clients and their engagements to look for, by what is typed; those chosen are among them. */
export function useWhose(clients: number[], engagements: number[]) {
  const soughtClients = useSought<Schema["ClientChoice"]>((text, when) =>
    reading("/api/choices/clients", { query: { text } }, { when, holds: 60_000 }),
  );
  const soughtWork = useEngagements(clients.length > 0 ? { clients } : {});
  const chosenClients = useRead(
    "/api/choices/clients",
    { query: { ids: clients } },
    { when: clients.length > 0, holds: 60_000, keeps: true },
  );
  const chosenWork = useEngagementsOf(engagements);
  return {
    clients: { ...soughtClients, data: withChosen(chosenClients.data, soughtClients.data, (c) => c.id) },
    engagements: { ...soughtWork, data: withChosen(chosenWork.data, soughtWork.data, (e) => e.engagementId) },
  };
}

/** What typed input would be worth, while it is typed. */
export function useWorth(typed: TypedEntry | null, entry = 0) {
  return useAsked(
    "/api/time-entries/value",
    { query: { entry }, body: typed as TypedEntry },
    {
      when: typed !== null && (typed.worked.trim() !== "" || Boolean(typed.ended) || Boolean(typed.flat)),
      holds: 60_000,
    },
  );
}

/** Saving, changing and removing entries; what depends on them is read again. */
export function useRecord() {
  // Done when the week is read again, so that no cell shows what it was before.
  const following = { until: "/api/people/{id}/weeks/{day}" } as const;
  const save = useAct(
    ({ entry, typed }: { entry?: Entry; typed: TypedEntry }) =>
      entry
        ? api.put("/api/time-entries/{id}", {
            path: { id: entry.id },
            query: { version: entry.version },
            body: typed,
          })
        : api.post("/api/time-entries", { body: typed }),
    following,
  );
  const remove = useAct(
    (entry: Entry) =>
      api.delete("/api/time-entries/{id}", { path: { id: entry.id }, query: { version: entry.version } }),
    following,
  );
  const bringBack = useAct(
    (entry: Entry) =>
      api.post("/api/time-entries/{id}/return", {
        path: { id: entry.id },
        query: { version: entry.version },
      }),
    following,
  );
  return { save, remove, bringBack };
}
