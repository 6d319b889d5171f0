import { useQuery } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { api, of, type Schema } from "./client";

export type Session = Schema["Session"];

export const SessionContext = createContext<Session | null>(null);

/** Who is signed in; inside the frame there is always somebody. */
export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("outside the frame nobody is signed in");
  return session;
}

export const useSessionQuery = () =>
  useQuery({ queryKey: ["session"], queryFn: () => of(api.GET("/api/session")), staleTime: 60_000 });
