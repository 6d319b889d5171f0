import { Button } from "antd";
import { clsx } from "clsx";
import { Link } from "react-router";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { instant } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import sentenceCss from "../../frame/sentence.module.css";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";
import { useWaitingChanges } from "./use-set-up";

/** Changes that wait: a second administrator agrees, or does not. */
export function ChangesDesk() {
  const changes = useWaitingChanges();
  const answer = useAct(
    ({ id, version, yes }: { id: number; version: number; yes: boolean }) =>
      api.post("/api/changes/{id}", { path: { id }, body: { version, yes } }),
    { records: true },
  );
  const rows = changes.data ?? [];
  return (
    <div className={clsx(deskCss.deskMain, deskCss.scrolls)}>
      <Title>Changes that wait</Title>
      <p className={sentenceCss.sentence}>
        Bank details, roles and limits change when a second administrator agrees. <Link to="/set-up">Set-up</Link>
      </p>
      <Refused by={changes.error} />
      {changes.data && rows.length === 0 && <p className={deskCss.empty}>Nothing waits.</p>}
      {rows.length > 0 && (
        <table className={tableCss.grid}>
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">Now</th>
              <th scope="col">Then</th>
              <th scope="col">Proposed by</th>
              <th scope="col" aria-label="Answer" />
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id}>
                <th scope="row">{row.what}</th>
                <td className={tableCss.wraps}>{row.before || "nothing"}</td>
                <td className={tableCss.wraps}>
                  <b>{row.after || "nothing"}</b>
                </td>
                <td>
                  {row.by}
                  <span className="under">{instant(row.at)}</span>
                </td>
                <td className="number">
                  {!row.own && (
                    <Button
                      size="small"
                      disabled={answer.isPending}
                      onClick={() => answer.mutate({ id: row.id, version: row.version, yes: true })}
                    >
                      Agree
                    </Button>
                  )}{" "}
                  <Button
                    size="small"
                    type="text"
                    disabled={answer.isPending}
                    onClick={() => answer.mutate({ id: row.id, version: row.version, yes: false })}
                  >
                    {row.own ? "Take it back" : "Refuse"}
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Refused by={answer.error} />
    </div>
  );
}
