import { Button } from "antd";
import dayjs from "dayjs";
import { useRef, useState } from "react";
import type { Problem } from "../../api/client";
import { useSession } from "../../api/session";
import { isoDay, long } from "../../frame/days";
import { clock, fixed, hours, Moneys } from "../../frame/figure";
import { SaidChoice, SaidDate, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { EntryFolio } from "./entry-folio";
import { Sheet } from "./sheet";
import { type Edit, entriesAt, type Place, placeKey, placeOf, rowKey, typedOf, useCells } from "./use-cells";
import { type Entry, type TypedEntry, useChoices, useRecord, useWeek, useWeekAddress } from "./use-week";

/** A person's week: typed into a grid, with the entry at hand beside it. */
export function TimeDesk() {
  const { day, person, entry: asked, go: goAddress } = useWeekAddress();
  const session = useSession();
  const week = useWeek(person, day);
  const choices = useChoices();
  const cells = useCells(person);
  const { save, remove } = useRecord();
  const [chosen, setPlace] = useState<Place | null>(null);
  const [removed, setRemoved] = useState<Entry | null>(null);
  const saving = useRef(new Set<string>());
  if (week.error) return <p className="refusal page-refusal">{week.error.message}</p>;
  if (!week.data) return null;
  const sheet = week.data;
  const place = chosen ?? placeOf(sheet, asked);
  const mayRecord = session.role === "administrator" || person === session.personId;

  const entry = place ? entriesAt(sheet, place.row, place.day).find((e) => e.id === place.entryId) : undefined;
  const bodyOf = (at: Place, typed: Edit["typed"]): TypedEntry => {
    const [engagementId, serviceId] = at.row.split("-").map(Number) as [number, number];
    return { personId: person, engagementId, serviceId, day: at.day, ...typed };
  };
  const entryAt = (at: Place) => entriesAt(sheet, at.row, at.day).find((e) => e.id === at.entryId);

  const takeAway = async (gone: Entry) => {
    await remove.mutateAsync(gone);
    setRemoved(gone);
  };
  const bringBack = async (gone: Entry) => {
    const row = rowKey(gone);
    await save.mutateAsync({ typed: bodyOf({ row, day: gone.day, entryId: 0 }, typedOf(gone, gone.treatment)) });
    setRemoved(null);
  };

  /** Saves what was typed at a place; a refusal leaves it there with its sentence. */
  const commit = async (at: Place): Promise<boolean> => {
    const edit = cells.get(at);
    if (!edit || saving.current.has(placeKey(at))) return true;
    const before = entryAt(at);
    const empty = edit.typed.worked.trim() === "";
    if (!before && empty) {
      cells.drop(at);
      return true;
    }
    saving.current.add(placeKey(at));
    try {
      if (before && empty) {
        await takeAway(before);
        cells.drop(at);
        return true;
      }
      const saved = await save.mutateAsync({ entry: before, typed: bodyOf(at, edit.typed) });
      const there = { row: rowKey(saved), day: saved.day, entryId: saved.id };
      const typedSince = cells.get(at);
      cells.drop(at);
      if (typedSince && typedSince !== edit) cells.put(there, typedSince);
      setPlace((now) => (now && placeKey(now) === placeKey(at) ? there : now));
      return true;
    } catch (problem) {
      cells.put(at, { typed: cells.get(at)?.typed ?? edit.typed, problem: problem as Problem });
      return false;
    } finally {
      saving.current.delete(placeKey(at));
    }
  };
  const goTo = (to: Place) => {
    if (place && placeKey(place) !== placeKey(to) && !cells.get(place)?.problem) commit(place);
    setPlace(to);
  };
  const change = (at: Place, part: Partial<Edit["typed"]>) => {
    const typed = cells.get(at)?.typed ?? typedOf(entryAt(at), at.row.split("-")[2] as TypedEntry["treatment"]);
    cells.put(at, { typed: { ...typed, ...part } });
  };
  /** Another week or person; what was typed is saved first. */
  const go = (change: Record<string, string>) => {
    if (place && !cells.get(place)?.problem) commit(place);
    setPlace(null);
    goAddress(change);
  };
  const week7 = (weeks: number) => go({ week: isoDay(dayjs(sheet.monday).add(weeks * 7, "day")) });

  return (
    <>
      <div className="desk-main">
        <h1>
          {sheet.person}, week {sheet.number}
        </h1>
        <Sentence>
          Week of <SaidDate label="Week of" value={sheet.monday} onChange={(iso) => go({ week: iso })} />
          {(choices.data?.people.length ?? 0) > 1 && (
            <>
              {" "}
              for{" "}
              <SaidChoice
                label="Person"
                value={person}
                choices={(choices.data?.people ?? []).map((p) => ({ value: p.id, label: p.name }))}
                onChange={(id) => go({ person: String(id) })}
              />
            </>
          )}
          <span className="week-steps">
            <button type="button" className="link" onClick={() => week7(-1)}>
              week before
            </button>
            <button type="button" className="link" onClick={() => week7(1)}>
              week after
            </button>
            <button type="button" className="link" onClick={() => go({ week: session.today })}>
              this week
            </button>
          </span>
        </Sentence>
        <Sheet
          week={sheet}
          today={session.today}
          readOnly={!mayRecord}
          cells={cells}
          choices={choices.data}
          place={place}
          onPlace={goTo}
          onChange={change}
          onCommit={commit}
        />
      </div>
      <EntryFolio
        person={sheet.person}
        place={place}
        entries={place ? entriesAt(sheet, place.row, place.day) : []}
        entry={entry}
        edit={place ? cells.get(place) : undefined}
        body={place ? (typed) => bodyOf(place, typed) : undefined}
        readOnly={!mayRecord}
        onPlace={goTo}
        onChange={(part) => place && change(place, part)}
        onCommit={() => place && commit(place)}
        onRemove={entry ? () => takeAway(entry).catch(() => {}) : undefined}
        problem={remove.error ?? undefined}
      />
      <Tally
        notice={
          removed && (
            <span>
              Removed {clock(removed.minutes)} of {long(removed.day)}.{" "}
              <button type="button" className="link" onClick={() => bringBack(removed)}>
                Undo
              </button>
            </span>
          )
        }
        actions={
          <Button type="primary" disabled={!place || !cells.get(place)} onClick={() => place && commit(place)}>
            Save this entry
          </Button>
        }
      >
        <TallySum figure={`${hours(sheet.minutes, "0.0")} h`} what={`of ${hours(sheet.capacity)} this week`} />
        <TallySum figure={`${hours(sheet.billable, "0.0")} h`} what="billable" />
        <TallySum figure={`${fixed(Math.round(sheet.utilisation / 10_000), 0)} %`} what="of capacity billable" />
        <TallySum figure={<Moneys of={sheet.values} />} what="to bill, net" />
      </Tally>
    </>
  );
}
