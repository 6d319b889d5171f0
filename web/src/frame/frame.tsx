import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Navigate, Outlet, useLocation, useNavigate } from "react-router";
import { Problem } from "../api/client";
import { keyOf } from "../api/read";
import { SessionContext, useSessionQuery } from "../api/session";
import { Find } from "./find";
import { FolioContext } from "./folio";
import { inField, KeysHelp } from "./keys";
import { Proof } from "./proof";
import { StageRail } from "./rail";

const stages = ["/pricing", "/time", "/wip", "/billing", "/receivables"];

/** What is around every desk: the rail, finding, and the keys that hold anywhere. */
export function Frame() {
  const session = useSessionQuery();
  const location = useLocation();
  const [finding, setFinding] = useState(false);
  const [helping, setHelping] = useState(false);
  const [turnedAt, setTurnedAt] = useState("");
  const folio = useMemo(
    () => ({
      open: turnedAt === location.pathname,
      turn: (open: boolean) => setTurnedAt(open ? location.pathname : ""),
    }),
    [turnedAt, location.pathname],
  );
  useAnywhereKeys(
    () => setFinding(true),
    () => setHelping(true),
  );
  if (session.isPending) return null;
  if (session.error instanceof Problem && session.error.status === 401) {
    return <Navigate to={`/sign-in?to=${encodeURIComponent(location.pathname + location.search)}`} replace />;
  }
  if (session.error) return <p className="refusal page-refusal">{session.error.message}</p>;
  return (
    <SessionContext.Provider value={session.data}>
      <StageRail onFind={() => setFinding(true)} />
      <FolioContext.Provider value={folio}>
        <main className="desk" data-folio={folio.open ? "open" : undefined}>
          <Outlet />
        </main>
      </FolioContext.Provider>
      <Proof />
      {finding && <Find onClose={() => setFinding(false)} />}
      {helping && <KeysHelp onClose={() => setHelping(false)} />}
    </SessionContext.Provider>
  );
}

/** Alt with a digit goes to a stage, Ctrl K finds, ? shows the keys. */
function useAnywhereKeys(onFind: () => void, onHelp: () => void) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const stage = event.altKey ? stages[Number(event.key) - 1] : undefined;
      if (stage) {
        queries.invalidateQueries({ queryKey: keyOf("/api/rail") });
        navigate(stage);
      } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") onFind();
      else if (event.key === "?" && !inField(event.target)) onHelp();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [navigate, queries, onFind, onHelp]);
}
