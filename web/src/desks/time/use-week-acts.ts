import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useRead } from "../../api/read";

/** What is done with a person's week as a whole. */
export function useWeekActs(id: number, day: string) {
  const params = { path: { id, day } };
  const submit = useAct(() => api.post("/api/people/{id}/weeks/{day}/submitted", params));
  const takeBack = useAct(() => api.delete("/api/people/{id}/weeks/{day}/submitted", params));
  const approve = useAct(() => api.post("/api/people/{id}/weeks/{day}/approved", params));
  const remind = useAct(() => api.post("/api/people/{id}/weeks/{day}/reminder", params));
  const sendBack = useAct((reason: string) =>
    api.post("/api/people/{id}/weeks/{day}/sent-back", { ...params, body: { reason } }),
  );
  const problem = [submit, takeBack, approve, remind, sendBack].find((act) => act.error)?.error;
  return { submit, takeBack, approve, remind, sendBack, problem };
}

export const useWeekHistory = (id: number, day: string) =>
  useRead("/api/people/{id}/weeks/{day}/history", { path: { id, day } });

/** Where the weeks of everybody stand. */
export const useWeeks = (day: string) => useRead("/api/weeks/{day}", { path: { day } }, { keeps: true });
