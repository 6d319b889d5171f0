import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { shows } from "./act";
import type { Schema } from "./client";
import { useRead } from "./read";

export type Session = Schema["Session"];

export const SessionContext = createContext<Session | null>(null);

/** Who is signed in; inside the frame there is always somebody. */
export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("outside the frame nobody is signed in");
  return session;
}

/** The session is asked for by itself: acts leave it. */
export const useSessionQuery = () => useRead("/api/session", undefined, { holds: 60_000 });

/** Begins with the session that was answered, and with nothing of the one before. */
export function useBeginSession() {
  const queries = useQueryClient();
  return (session: Session) => {
    queries.clear();
    shows(queries, "/api/session", undefined, session);
  };
}
