import { useQueryClient } from "@tanstack/react-query";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { reading, useRead } from "../../api/read";
import { useSettled } from "../use-settled";
import { together, useSought } from "../use-sought";

export type Sheet = Schema["Sheet"];
export type Value = Schema["SheetValue"];
export type Field = Schema["Field"];
export type RecordRow = Schema["RecordRow"];

export const useSheet = (kind: string, id: number) =>
  useRead("/api/records/{kind}/{id}", { path: { kind, id } }, { when: id > 0 });

export const useRows = (kind: string, filter: { of?: number; inactive?: boolean } = {}) =>
  useRead("/api/records/{kind}", { path: { kind }, query: filter }, { keeps: "of the same path" });

/** How many records of a kind are listed; of more, one types which are meant. */
export const listed = 500;

/** The records of a kind in a list: all where they are few, of many those that are like what is typed. */
export function useListed(kind: string, text: string, inactive?: boolean) {
  const sought = useSettled(text.trim(), 150);
  const first = useRead(
    "/api/records/{kind}",
    { path: { kind }, query: { inactive, most: listed } },
    { keeps: "of the same path" },
  );
  const many = (first.data?.length ?? 0) >= listed;
  const found = useRead(
    "/api/records/{kind}",
    { path: { kind }, query: { inactive, most: listed, text: sought } },
    { when: many && sought !== "" },
  );
  return { rows: many && sought !== "" && found.data ? found : first, cut: many };
}

export const useForm = (kind: string) => useRead("/api/records/{kind}/form", { path: { kind } });

/** Records of a kind to choose from, with the one of a key or number that is chosen. */
export const useOptions = (kind: string, { of = 0, has = "", when = true } = {}) =>
  useSought<Schema["RecordOption"]>((text, asked) =>
    reading(
      "/api/records/{kind}/options",
      { path: { kind }, query: { of, has, text, most: together } },
      { when: when && asked && kind !== "", keeps: text === "" && "of the same path" },
    ),
  );

type Option = Schema["RecordOption"];

/** The record that is chosen, by its key or number: at once, where it was chosen from a list; none while it is read. */
export function useOption(kind: string, has: string | number): Option | undefined {
  const queries = useQueryClient();
  const chosen = String(has || "");
  const isChosen = (option: Option) => option.key === chosen || String(option.id) === chosen;
  const seen = queries
    .getQueriesData<Option[]>({
      predicate: ({ queryKey: [address, asked] }) =>
        address === "/api/records/{kind}/options" && (asked as { path: { kind: string } }).path.kind === kind,
    })
    .flatMap(([, options]) => options ?? [])
    .find(isChosen);
  const read = useRead(
    "/api/records/{kind}/options",
    { path: { kind }, query: { has: chosen, most: 1 } },
    { when: kind !== "" && chosen !== "" && !seen },
  );
  return seen ?? read.data?.find(isChosen);
}

/** A change of one field of one or several records. */
export interface Change {
  records: { id: number; version: number }[];
  field: string;
  value: string;
  giveBack?: boolean;
}

const following = { records: true };

/** The acts on records of a kind; whatever names them is read again. */
export function useRecordActs(kind: string) {
  const add = useAct(
    (body: Record<string, string>) => api.post("/api/records/{kind}", { path: { kind }, body }),
    following,
  );
  const change = useAct((body: Change) => api.put("/api/records/{kind}", { path: { kind }, body }), following);
  const setActive = useAct(
    ({ id, version, active }: { id: number; version: number; active: boolean }) =>
      api.put("/api/records/{kind}/{id}/active", { path: { kind, id }, query: { version }, body: { active } }),
    following,
  );
  const remove = useAct(
    ({ id, version }: { id: number; version: number }) =>
      api.delete("/api/records/{kind}/{id}", { path: { kind, id }, query: { version } }),
    following,
  );
  return { add, change, setActive, remove };
}
