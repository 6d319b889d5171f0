import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { type ReactNode, useEffect, useState } from "react";
import { useAct } from "../api/act";
import { api, type Schema } from "../api/client";
import { Do } from "./do";
import jobCss from "./job.module.css";

export type Job = Schema["Job"];

/** How far long work is, from when it was begun until it has stopped. */
export function useJob(onStopped: (job: Job) => void) {
  const [begun, setBegun] = useState<Job | null>(null);
  const asked = useQuery({
    queryKey: ["job", begun?.id],
    queryFn: () => api.get("/api/jobs/{id}", { path: { id: begun?.id ?? 0 } }),
    enabled: begun !== null && begun.state === "running",
    refetchInterval: (query) => (query.state.data && query.state.data.state !== "running" ? false : 250),
  });
  const job = asked.data ?? begun;
  const stopped = asked.data && asked.data.state !== "running" ? asked.data : null;
  // The work goes on elsewhere: that it has stopped is known only by asking.
  useEffect(() => {
    if (!stopped) return;
    setBegun(stopped);
    onStopped(stopped);
  }, [stopped, onStopped]);
  return { job, begin: setBegun, forget: () => setBegun(null) };
}

interface ProgressProps {
  job: Job;
  what: string;
  onForget: () => void;
  /** What can be done when it is done. */
  children?: ReactNode;
}

/** A bar with how far it is, and a way to stop; afterwards what was done. */
export function JobProgress({ job, what, onForget, children }: ProgressProps) {
  const cancel = useAct(() => api.delete("/api/jobs/{id}", { path: { id: job.id } }));
  const running = job.state === "running";
  return (
    <div className={jobCss.job} role="status">
      {running ? (
        <>
          <span>
            {what} {job.done} of {job.whole}
          </span>
          <progress aria-label={what} value={job.done} max={Math.max(job.whole, 1)} />
          <Button size="small" loading={cancel.isPending} onClick={() => cancel.mutate()}>
            Stop
          </Button>
        </>
      ) : (
        <>
          <span className={job.state === "done" ? "" : "lost"}>
            {job.state === "cancelled" && "Stopped. "}
            {job.said}
          </span>
          {job.state === "done" && job.fileName && (
            <Button size="small" type="primary" href={`/api/jobs/${job.id}/file`}>
              Save {job.fileName}
            </Button>
          )}
          {children}
          <Do onClick={onForget}>Put away</Do>
        </>
      )}
    </div>
  );
}
