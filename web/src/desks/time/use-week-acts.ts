import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, of } from "../../api/client";

/** What is done with a person's week as a whole. */
export function useWeekActs(id: number, day: string) {
  const queries = useQueryClient();
  const params = { path: { id, day } };
  const onSuccess = () => {
    for (const key of ["week", "weeks", "rail", "work", "week-history"]) queries.invalidateQueries({ queryKey: [key] });
  };
  const submit = useMutation({
    mutationFn: () => of(api.POST("/api/people/{id}/weeks/{day}/submitted", { params })),
    onSuccess,
  });
  const takeBack = useMutation({
    mutationFn: () => of(api.DELETE("/api/people/{id}/weeks/{day}/submitted", { params })),
    onSuccess,
  });
  const approve = useMutation({
    mutationFn: () => of(api.POST("/api/people/{id}/weeks/{day}/approved", { params })),
    onSuccess,
  });
  const remind = useMutation({
    mutationFn: () => of(api.POST("/api/people/{id}/weeks/{day}/reminder", { params })),
    onSuccess,
  });
  const sendBack = useMutation({
    mutationFn: (reason: string) =>
      of(api.POST("/api/people/{id}/weeks/{day}/sent-back", { params, body: { reason } })),
    onSuccess,
  });
  const problem = [submit, takeBack, approve, remind, sendBack].find((act) => act.error)?.error;
  return { submit, takeBack, approve, remind, sendBack, problem };
}

export const useWeekHistory = (id: number, day: string) =>
  useQuery({
    queryKey: ["week-history", id, day],
    queryFn: () => of(api.GET("/api/people/{id}/weeks/{day}/history", { params: { path: { id, day } } })),
  });

/** Where the weeks of everybody stand. */
export const useWeeks = (day: string) =>
  useQuery({
    queryKey: ["weeks", day],
    queryFn: () => of(api.GET("/api/weeks/{day}", { params: { path: { day } } })),
    placeholderData: (before) => before,
  });
