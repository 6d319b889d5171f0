import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { api, of, type Schema } from "../../api/client";
import { useJob } from "../../frame/job";
import type { Form } from "./files";
import { refresh, type Summary } from "./use-billing";

export type Run = Schema["Run"];

export const useRuns = (asks: boolean) =>
  useQuery({ queryKey: ["runs"], queryFn: () => of(api.GET("/api/runs")), enabled: asks });

const edits = (rows: Summary[]) => ({ edits: rows.map(({ id, version }) => ({ id, version })) });

/** What is done with many drafts or invoices at once, and with the run that they are in. */
export function useMany() {
  const queries = useQueryClient();
  const stopped = useCallback(() => {
    refresh(queries);
    queries.invalidateQueries({ queryKey: ["runs"] });
    queries.invalidateQueries({ queryKey: ["invoice"] });
  }, [queries]);
  const job = useJob(stopped);
  const settled = { onSettled: stopped };
  const ask = useMutation({
    mutationFn: (rows: Summary[]) => of(api.POST("/api/drafts/ask-approval", { body: edits(rows) })),
    ...settled,
  });
  const approve = useMutation({
    mutationFn: (rows: Summary[]) => of(api.POST("/api/drafts/approve", { body: edits(rows) })),
    ...settled,
  });
  const issue = useMutation({
    mutationFn: (rows: Summary[]) => of(api.POST("/api/drafts/issue", { body: edits(rows) })),
    onSuccess: job.begin,
  });
  const reopen = useMutation({
    mutationFn: (rows: Summary[]) => of(api.POST("/api/invoices/reopen", { body: edits(rows) })),
    onSuccess: job.begin,
  });
  const documents = useMutation({
    mutationFn: ({ rows, form, name }: { rows: Summary[]; form: Form; name: string }) =>
      of(api.POST("/api/documents", { body: { ids: rows.map((row) => row.id), form, name } })),
    onSuccess: job.begin,
  });
  const check = useMutation({
    mutationFn: ({ rows, form }: { rows: Summary[]; form: Form }) =>
      of(api.POST("/api/documents/check", { body: { ids: rows.map((row) => row.id), form } })),
  });
  const changeRun = useMutation({
    mutationFn: ({ run, typed }: { run: Run; typed: Schema["RunTyped"] }) =>
      of(api.PUT("/api/runs/{id}", { params: { path: { id: run.id }, query: { version: run.version } }, body: typed })),
    ...settled,
  });
  const deleteRun = useMutation({
    mutationFn: (run: Run) =>
      of(api.DELETE("/api/runs/{id}", { params: { path: { id: run.id }, query: { version: run.version } } })),
    ...settled,
  });
  const problem = [ask, approve, issue, reopen, documents, check, changeRun, deleteRun].find((act) => act.error)?.error;
  return { job, ask, approve, issue, reopen, documents, check, changeRun, deleteRun, problem };
}
