import { lazy, Suspense } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { openExplanation } from "../../frame/explain";
import { stateWords } from "../../frame/fill-mark";
import { count, days } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { orAll } from "../../frame/pick";
import { SaidChoice, Sentence } from "../../frame/sentence";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";
import { standing, sums, whose } from "./invoice-columns";
import { InvoiceFolio } from "./invoice-folio";
import { onLines } from "./line-order";
import { ManyTally } from "./many-tally";
import { type Summary, useDrafts } from "./use-billing";
import { useRuns } from "./use-run";
import { Which } from "./which";

// Most who look at drafts look at no run.
const RunPane = lazy(() => import("./run-pane").then((pane) => ({ default: pane.RunPane })));

/** Drafts to review, of one run or of all. */
export function DraftsDesk() {
  const { role } = useSession();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const runs = useRuns(role !== "lead");
  // A run that is gone is chosen no more.
  const asked = Number(search.get("run") ?? 0);
  const run = runs.data?.find((r) => r.id === asked);
  const drafts = useDrafts(runs.data && !run ? 0 : asked);
  const rows = drafts.data ?? [];
  const list = useList({
    name: "drafts",
    rows,
    columns,
    id: (row) => row.id,
    text: (row) => `${row.number} ${row.client} ${row.engagements} ${stateWords[row.state]} ${row.beside}`,
  });
  const open = (id: number) => navigate(`/billing/${id}`, onLines);
  const toFinding = () => {
    const next = [...list.rows.slice(list.current + 1), ...list.rows.slice(0, list.current)].find((r) => r.found > 0);
    if (next) list.move(list.rows.indexOf(next));
  };
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>{run?.name ?? "Drafts to review"}</Title>
        <Sentence>
          Show <Which value="drafts" />
          {role !== "lead" && (
            <>
              , of{" "}
              <SaidChoice
                label="Run"
                value={run?.id ?? 0}
                choices={orAll(
                  0,
                  "every run, and without one",
                  (runs.data ?? []).map((r) => [r.id, r.name]),
                )}
                onChange={(id) => {
                  list.forget();
                  setSearch(id ? { run: String(id) } : {});
                }}
              />
            </>
          )}
        </Sentence>
        {run && (
          <Suspense>
            <RunPane key={`${run.id}-${run.version}`} run={run} mayAct={role === "administrator" && !run.kept} />
          </Suspense>
        )}
        <List
          main
          className={tableCss.invoices}
          label="Drafts"
          list={list}
          read={drafts}
          choice={list.chooses((row) => row.number || row.client)}
          onOpen={(row) => open(row.id)}
          keys={{ f: toFinding, "=": () => openExplanation(document.querySelector("aside")) }}
          empty={<p>No drafts. Choose what to bill under Work in progress, or begin a single invoice.</p>}
        />
      </div>
      <InvoiceFolio summary={list.row} />
      <ManyTally
        read={drafts}
        here={{ rows, count: rows.length, late: 0, all: () => Promise.resolve(rows) }}
        chosen={list.chosen}
        row={list.row}
        show="drafts"
        name={run?.name ?? "Drafts"}
        onDone={list.forget}
        onOpen={open}
      />
    </>
  );
}

const columns: Column<Summary>[] = [
  standing("State"),
  whose,
  days("Dated", (row) => row.dated),
  days("Work up to", (row) => row.upTo),
  count("Entries", (row) => row.entries),
  ...sums,
  count("To settle", (row) => row.found, { cell: (row) => <Found row={row} /> }),
];

/** How many findings a draft has; those that block its issue in brick. */
function Found({ row }: { row: Summary }) {
  if (row.found === 0) return <span className="soft">–</span>;
  return (
    <span className={row.blocking > 0 ? "lost" : ""} title={row.blocking > 0 ? `${row.blocking} of them block` : ""}>
      {row.found}
    </span>
  );
}
