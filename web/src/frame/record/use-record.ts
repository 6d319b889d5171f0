import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, of, type Schema } from "../../api/client";

export type Sheet = Schema["Sheet"];
export type Value = Schema["SheetValue"];
export type Field = Schema["Field"];
export type RecordRow = Schema["RecordRow"];

export const useSheet = (kind: string, id: number) =>
  useQuery({
    queryKey: ["records", kind, "sheet", id],
    queryFn: () => of(api.GET("/api/records/{kind}/{id}", { params: { path: { kind, id } } })),
    enabled: id > 0,
    placeholderData: (before) => (before?.id === id ? before : undefined),
  });

export const useRows = (kind: string, filter: { text?: string; of?: number; inactive?: boolean } = {}) =>
  useQuery({
    queryKey: ["records", kind, "rows", filter],
    queryFn: () => of(api.GET("/api/records/{kind}", { params: { path: { kind }, query: filter } })),
    placeholderData: (before, query) => (query?.queryKey[1] === kind ? before : undefined),
  });

export const useForm = (kind: string) =>
  useQuery({
    queryKey: ["records", kind, "form"],
    queryFn: () => of(api.GET("/api/records/{kind}/form", { params: { path: { kind } } })),
  });

export const useOptions = (kind: string, belongsTo = 0, enabled = true) =>
  useQuery({
    queryKey: ["records", kind, "options", belongsTo],
    queryFn: () => of(api.GET("/api/records/{kind}/options", { params: { path: { kind }, query: { of: belongsTo } } })),
    enabled: enabled && kind !== "",
  });

/** A change of one field of one or several records. */
export interface Change {
  records: { id: number; version: number }[];
  field: string;
  value: string;
  giveBack?: boolean;
}

/** The acts on records of a kind; whatever is shown of them is read again. */
export function useRecordActs(kind: string) {
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "session" });
  const add = useMutation({
    mutationFn: (body: Record<string, string>) =>
      of(
        api.POST("/api/records/{kind}", {
          params: { path: { kind } },
          body,
        }),
      ),
    onSuccess: () => {
      return refresh();
    },
  });
  const change = useMutation({
    mutationFn: (body: Change) => of(api.PUT("/api/records/{kind}", { params: { path: { kind } }, body })),
    onSuccess: refresh,
  });
  const setActive = useMutation({
    mutationFn: ({ id, version, active }: { id: number; version: number; active: boolean }) =>
      of(
        api.PUT("/api/records/{kind}/{id}/active", {
          params: { path: { kind, id }, query: { version } },
          body: { active },
        }),
      ),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: ({ id, version }: { id: number; version: number }) =>
      of(api.DELETE("/api/records/{kind}/{id}", { params: { path: { kind, id }, query: { version } } })),
    onSuccess: refresh,
  });
  return { add, change, setActive, remove };
}
