import { useQuery } from "@tanstack/react-query";
import { api, of } from "../api/client";

/** What the signed-in person is told and has not put away. */
export const useNotices = () =>
  useQuery({ queryKey: ["notices"], queryFn: () => of(api.GET("/api/notices")), staleTime: 30_000 });
