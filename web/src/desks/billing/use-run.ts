import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { readAgain, useRead } from "../../api/read";
import { useJob } from "../../frame/job";
import type { Form } from "./files";
import type { Summary } from "./use-billing";

export type Run = Schema["Run"];

export const useRuns = (asks: boolean) => useRead("/api/runs", undefined, { when: asks });

const edits = (rows: Summary[]) => ({ edits: rows.map(({ id, version }) => ({ id, version })) });

/** What is done with many drafts or invoices at once, and with the run that they are in. */
export function useMany() {
  const queries = useQueryClient();
  const stopped = useCallback(() => {
    readAgain(queries);
  }, [queries]);
  const job = useJob(stopped);
  const ask = useAct((rows: Summary[]) => api.post("/api/drafts/ask-approval", { body: edits(rows) }));
  const approve = useAct((rows: Summary[]) => api.post("/api/drafts/approve", { body: edits(rows) }));
  const issue = useAct(
    ({ rows, send }: { rows: Summary[]; send: boolean }) =>
      api.post("/api/drafts/issue", { body: { ...edits(rows), send } }),
    { done: job.begin },
  );
  const reopen = useAct((rows: Summary[]) => api.post("/api/invoices/reopen", { body: edits(rows) }), {
    done: job.begin,
  });
  const documents = useAct(
    async ({ rows, form, name }: { rows: () => Promise<Summary[]>; form: Form; name: string }) =>
      api.post("/api/documents", { body: { ids: (await rows()).map((row) => row.id), form, name } }),
    { done: job.begin },
  );
  const check = useAct(
    async ({ rows, form }: { rows: () => Promise<Summary[]>; form: Form }) =>
      api.post("/api/documents/check", { body: { ids: (await rows()).map((row) => row.id), form } }),
    { changesNothing: true },
  );
  const changeRun = useAct(({ run, typed }: { run: Run; typed: Schema["RunTyped"] }) =>
    api.put("/api/runs/{id}", { path: { id: run.id }, query: { version: run.version }, body: typed }),
  );
  const takeOutMember = useAct(({ run, engagement }: { run: Run; engagement: number }) =>
    api.delete("/api/runs/{id}/members/{engagement}", {
      path: { id: run.id, engagement },
      query: { version: run.version },
    }),
  );
  const deleteRun = useAct((run: Run) =>
    api.delete("/api/runs/{id}", { path: { id: run.id }, query: { version: run.version } }),
  );
  const problem = [ask, approve, issue, reopen, documents, check, changeRun, takeOutMember, deleteRun].find(
    (act) => act.error,
  )?.error;
  return { job, ask, approve, issue, reopen, documents, check, changeRun, takeOutMember, deleteRun, problem };
}
