import { NavLink } from "react-router";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { useRail } from "../../frame/rail";

/** The ways in which time is looked at, beside the title of each. */
export function TimeViews() {
  const { role } = useSession();
  const waiting = useRail().data?.time.toApprove ?? 0;
  return (
    <nav className={deskCss.views} aria-label="Time">
      <NavLink to="/time" end>
        Week
      </NavLink>
      {role !== "staff" && (
        <NavLink to="/time/people">Everybody’s weeks{waiting > 0 && `, ${waiting} to approve`}</NavLink>
      )}
      <NavLink to="/time/list">Entries</NavLink>
      <NavLink to="/time/expenses" end>
        Expenses
      </NavLink>
      <NavLink to="/time/left">Not used up</NavLink>
    </nav>
  );
}
