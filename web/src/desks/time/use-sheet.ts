import { useRef, useState } from "react";
import type { Problem } from "../../api/client";
import { useSession } from "../../api/session";
import { copyOf, type Edit, entriesAt, type Place, placeKey, placeOf, rowKey, typedOf, useCells } from "./use-cells";
import { type Entry, type TypedEntry, useRecord, type Week } from "./use-week";

/** What happens on a sheet: where one is, what is typed there, and saving it. */
export function useSheet(week: Week | undefined, person: number, asked: number) {
  const cells = useCells(person);
  const { save, remove, bringBack: back } = useRecord();
  const [chosen, setPlace] = useState<Place | null>(null);
  const [removed, setRemoved] = useState<Entry | null>(null);
  const [refused, setRefused] = useState<Error | null>(null);
  const saving = useRef(new Set<string>());
  const typing = useSession();
  const place = chosen ?? (week ? placeOf(week, asked) : null);
  const entryAt = (at: Place) => week && entriesAt(week, at.row, at.day).find((e) => e.id === at.entryId);

  const bodyOf = (at: Place, typed: Edit["typed"]): TypedEntry => {
    const [engagementId, serviceId] = at.row.split("-").map(Number) as [number, number];
    return { personId: person, engagementId, serviceId, day: at.day, ...typed };
  };
  const takeAway = async (gone: Entry) => {
    await remove.mutateAsync(gone);
    setRemoved(gone);
    setRefused(null);
  };
  const bringBack = (gone: Entry) => back.mutate(gone, { onSuccess: () => setRemoved(null), onError: setRefused });
  const store = async (at: Place, edit: Edit) => {
    const saved = await save.mutateAsync({ entry: entryAt(at), typed: bodyOf(at, edit.typed) });
    const there = { row: rowKey(saved), day: saved.day, entryId: saved.id };
    const typedSince = cells.get(at);
    cells.drop(at);
    if (typedSince && typedSince !== edit) cells.put(there, typedSince);
    setPlace((now) => (now && placeKey(now) === placeKey(at) ? there : now));
  };

  /** Saves what was typed at a place; a refusal leaves it there with its sentence. */
  const commit = async (at: Place): Promise<boolean> => {
    const edit = cells.get(at);
    if (!edit || saving.current.has(placeKey(at))) return true;
    const before = entryAt(at);
    const empty = edit.typed.worked.trim() === "" && !edit.typed.flat && !edit.typed.ended;
    saving.current.add(placeKey(at));
    try {
      if (before && empty) await takeAway(before);
      if (empty) cells.drop(at);
      else await store(at, edit);
      return true;
    } catch (problem) {
      cells.put(at, { typed: cells.get(at)?.typed ?? edit.typed, problem: problem as Problem });
      return false;
    } finally {
      saving.current.delete(placeKey(at));
    }
  };
  const typedAt = (at: Place): Edit["typed"] => {
    const there = entryAt(at);
    return cells.get(at)?.typed ?? typedOf(there, at.row.split("-")[2] as TypedEntry["treatment"], typing);
  };
  const leave = () => place && !cells.get(place)?.problem && commit(place);
  /** Goes to another cell, or to none; what was typed is saved first. */
  const goTo = (to: Place | null) => {
    if (!place || !to || placeKey(place) !== placeKey(to)) leave();
    setPlace(to);
  };
  const change = (at: Place, part: Partial<Edit["typed"]>) => {
    cells.put(at, { typed: { ...typedAt(at), ...part } });
  };
  /** Another entry in the cell, with everything of this one but its time. */
  const copy = async (at: Place) => {
    const from = entryAt(at);
    if (!from || !(await commit(at))) return;
    const to = { ...at, entryId: 0 };
    cells.put(to, { typed: copyOf(from, typing) });
    setPlace(to);
  };
  const entry = place ? entryAt(place) : undefined;
  return {
    cells,
    place,
    entry,
    removed,
    problem: remove.error,
    refused,
    bodyOf,
    takeAway,
    bringBack,
    commit,
    goTo,
    change,
    copy,
    typedAt,
  };
}
