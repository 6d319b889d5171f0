import { Button } from "antd";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { hoursSaid } from "../../api/hours";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Moneys } from "../../frame/figure";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { EntryRows, entriesOf } from "./entry-rows";
import { GroupTable } from "./group-table";
import { TimeViews } from "./time-views";
import { TogetherFolio } from "./together-folio";
import { useChoices } from "./use-week";
import { exportAddress, numbersOf, type Sought, type Together, useSought, useTogether, useWorkPages } from "./use-work";
import { WorkSentence } from "./work-sentence";

/** Entries that are looked for: as a list in which many are changed at once, or added up by client or by person. */
export function ListDesk() {
  const { sought, by, go } = useSought("time");
  const { role } = useSession();
  const choices = useChoices();
  const pages = useWorkPages(sought, entriesOf);
  const { whole } = pages;
  const [picked, setPicked] = useState<Set<number>>(new Set());
  // Asked to from a rate that was dated back: all of it, valued anew.
  const rerates = useSearchParams()[0].get("rerate") === "yes";
  const [change, setChange] = useState<Omit<Together, "ids">>(rerates ? { rerate: true } : {});
  // biome-ignore lint/correctness/useExhaustiveDependencies: when the desk opens
  useEffect(() => {
    if (rerates)
      numbersOf(sought).then(
        (ids) => setPicked(new Set(ids)),
        () => {},
      ); // of too many none: the list says how to choose
  }, []);
  const acts = useTogether();
  const [done, setDone] = useState<{ act: number; entries: number } | null>(null);
  const apply = () =>
    acts.change.mutate(
      { ...change, ids: [...picked] },
      {
        onSuccess: (changed) => {
          setDone({ act: changed.actId, entries: changed.entries.length });
          setPicked(new Set());
          setChange({});
        },
      },
    );
  const goTo = (to: Partial<Record<keyof Sought | "by", string>>) => {
    setPicked(new Set());
    go(to);
  };
  const says = Object.keys(change).length > 0;
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<TimeViews />}>Time entries</Title>
        <WorkSentence sought={sought} by={by} choices={choices.data} onGo={goTo} />
        {by === "" ? (
          <EntryRows
            sought={sought}
            pages={pages}
            picked={picked}
            onPick={setPicked}
            onPickAll={async () => setPicked(new Set(await numbersOf(sought)))}
          />
        ) : (
          <GroupTable sought={sought} by={by} onGo={goTo} />
        )}
      </div>
      <TogetherFolio
        key={picked.size === 0 ? "none" : "some"}
        ids={picked}
        change={change}
        choices={choices.data}
        prices={role === "administrator" || role === "lead"}
        onChange={setChange}
      />
      <Tally
        of={pages.read}
        notice={
          <>
            <Refused by={acts.change.error} inline />
            {done && picked.size === 0 && (
              <span>
                Changed {done.entries} {done.entries === 1 ? "entry" : "entries"}.{" "}
                <Do onClick={() => acts.undo.mutate(done.act, { onSuccess: () => setDone(null) })}>Undo</Do>
                <Refused by={acts.undo.error} inline />
              </span>
            )}
          </>
        }
        actions={
          <>
            <Button href={exportAddress(sought, "csv")}>Save as CSV</Button>
            <Button href={exportAddress(sought, "xlsx")}>as XLSX</Button>
            <Button
              type="primary"
              disabled={picked.size === 0 || !says}
              loading={acts.change.isPending}
              onClick={apply}
            >
              {picked.size === 0
                ? "Change together"
                : `Change ${picked.size} ${picked.size === 1 ? "entry" : "entries"}`}
            </Button>
          </>
        }
      >
        <TallySum figure={(whole?.total ?? 0).toLocaleString("en")} what="entries" />
        <TallySum figure={hoursSaid(whole?.minutes ?? 0)} what="worked" />
        {(whole?.expected ?? 0) > 0 && sought.states.split(",").includes("estimated") && (
          <TallySum figure={hoursSaid(whole?.expected ?? 0)} what="estimated for it" />
        )}
        {whole && whole.values.length > 0 && <TallySum figure={<Moneys of={whole.values} />} what="value, net" />}
      </Tally>
    </>
  );
}
