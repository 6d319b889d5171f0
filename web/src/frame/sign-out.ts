import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api } from "../api/client";

/** Ends the session, forgets what was read, and shows the sign-in. */
export function useSignOut() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return async () => {
    await api.delete("/api/session");
    queries.clear();
    navigate("/sign-in");
  };
}
