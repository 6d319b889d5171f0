import { Button } from "antd";
import { clsx } from "clsx";
import { Link } from "react-router";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { instant } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Table } from "../../frame/list/table";
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
        <Table
          rows={rows}
          id={(row) => row.id}
          columns={[
            { name: "What", names: "strong", cell: (row) => row.what },
            { name: "Now", tone: () => tableCss.wraps, cell: (row) => row.before || "nothing" },
            { name: "Then", tone: () => tableCss.wraps, cell: (row) => <b>{row.after || "nothing"}</b> },
            {
              name: "Proposed by",
              cell: (row) => (
                <>
                  {row.by}
                  <span className="under">{instant(row.at)}</span>
                </>
              ),
            },
            {
              name: "Answer",
              head: <span className="unseen">Answer</span>,
              number: true,
              cell: ({ id, version, own }) => (
                <>
                  {!own && (
                    <Button
                      size="small"
                      disabled={answer.isPending}
                      onClick={() => answer.mutate({ id, version, yes: true })}
                    >
                      Agree
                    </Button>
                  )}{" "}
                  <Button
                    size="small"
                    type="text"
                    disabled={answer.isPending}
                    onClick={() => answer.mutate({ id, version, yes: false })}
                  >
                    {own ? "Take it back" : "Refuse"}
                  </Button>
                </>
              ),
            },
          ]}
        />
      )}
      <Refused by={answer.error} />
    </div>
  );
}
