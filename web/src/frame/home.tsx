import { Navigate } from "react-router";
import { useSession } from "../api/session";

/** Who records begins with the week, who bills with the work in progress. */
export function Home() {
  const { role } = useSession();
  return <Navigate to={role === "staff" ? "/time" : "/wip"} replace />;
}
