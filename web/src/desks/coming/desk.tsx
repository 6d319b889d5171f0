import { Link, Navigate, useParams } from "react-router";
import deskCss from "../../frame/desk.module.css";
import { Title } from "../../frame/title";

interface Coming {
  title: string;
  belongs: string;
  now: string;
  to?: { path: string; word: string };
}

/** What will stand on the desks that are not built yet. */
const desks: Record<string, Coming> = {
  reports: {
    title: "Reports",
    belongs:
      "Worked, billed and collected by person, client and month will stand here, with roll-forwards that tie out.",
    now: "Any figure on the other desks already says how it was made.",
  },
};

export function ComingDesk() {
  const desk = desks[useParams().coming ?? ""];
  if (!desk) return <Navigate to="/" replace />;
  return (
    <div className={deskCss.coming}>
      <Title>{desk.title}</Title>
      <p>{desk.belongs}</p>
      <p className="soft">{desk.now}</p>
      {desk.to && <Link to={desk.to.path}>{desk.to.word}</Link>}
    </div>
  );
}
