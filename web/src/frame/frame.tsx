import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { Navigate, Outlet, useLocation, useNavigate } from "react-router";
import { useChanges } from "../api/changes";
import { Problem } from "../api/client";
import { writeHoursAs } from "../api/hours";
import { keyOf } from "../api/read";
import { SessionContext, useSessionQuery } from "../api/session";
import { Asking } from "./asking";
import deskCss from "./desk.module.css";
import { FolioContext } from "./folio";
import { inField } from "./keys";
import { StageRail } from "./rail";
import { Failed } from "./state";

const Find = lazy(() => import("./find").then(({ Find }) => ({ default: Find })));
const KeysHelp = lazy(() => import("./keys-help"));

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
  if (!session.data && session.error instanceof Problem && session.error.status === 401) {
    return <Navigate to={`/sign-in?to=${encodeURIComponent(location.pathname + location.search)}`} replace />;
  }
  if (!session.data) return <Failed of={session.error as Error} again={session.refetch} />;
  writeHoursAs(session.data.hoursAs);
  return (
    <SessionContext.Provider value={session.data}>
      <a className={deskCss.skip} href="#desk">
        To the desk
      </a>
      <Changes />
      <StageRail onFind={() => setFinding(true)} />
      <FolioContext.Provider value={folio}>
        <main id="desk" className={deskCss.desk} tabIndex={-1} data-folio={folio.open ? "open" : undefined}>
          <Outlet />
        </main>
      </FolioContext.Provider>
      <Asking what="proof" />
      <Asking what="signIn" />
      <Suspense fallback={null}>
        {finding && <Find onClose={() => setFinding(false)} />}
        {helping && <KeysHelp onClose={() => setHelping(false)} />}
      </Suspense>
    </SessionContext.Provider>
  );
}

/** Hears what others do, for who is signed in. */
function Changes() {
  useChanges();
  return null;
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
