import { useState } from "react";
import type { Schema } from "../../api/client";
import { changes, type Line, type LineTyped, type useDraftActs } from "./use-billing";

/** What was just done to a draft, and which act takes it back. */
interface Done {
  said: string;
  back: { putOn?: Line; takeOut?: Line; setText?: Line; addAgain?: LineTyped; decided?: number };
}

/** The acts on a draft's lines, and the undo of the last one. */
export function useUndoable(acts: ReturnType<typeof useDraftActs>) {
  const [done, setDone] = useState<Done | null>(null);
  const takeOut = (line: Line) =>
    acts.takeOut.mutate(line.portionId, {
      onSuccess: () => setDone({ said: `Took out “${line.text}”; it is unbilled again.`, back: { putOn: line } }),
    });
  const putOn = (line: Line) =>
    acts.putOn.mutate(line.portionId, {
      onSuccess: (changed) => {
        const there = changed.lines.find((l) => l.portionId === line.portionId);
        setDone(there ? { said: `Put on “${there.text}”.`, back: { takeOut: there } } : null);
      },
    });
  const setText = async (line: Line, text: string) => {
    await acts.setText.mutateAsync({ line: line.lineId, text });
    setDone({ said: `Changed “${line.text}”.`, back: { setText: line } });
  };
  const remove = (line: Line, typed?: LineTyped) =>
    acts.change.mutate(changes.removeLine(line.lineId), {
      onSuccess: () => setDone({ said: `Took out “${line.text}”.`, back: { addAgain: typed } }),
    });
  const decide = async (line: Line, decision: Schema["Decision"], said: string) => {
    const changed = await acts.change.mutateAsync(changes.decide([line.portionId], decision));
    setDone({ said: `${said} “${line.text}”.`, back: { decided: changed.actId } });
  };
  const undo = () => {
    const { putOn: out, takeOut: on, setText: text, addAgain, decided } = done?.back ?? {};
    if (decided) acts.change.mutate(changes.undo(decided), { onSuccess: () => setDone(null) });
    else if (out) putOn(out);
    else if (on) takeOut(on);
    else if (addAgain) acts.change.mutate(changes.addLine(addAgain), { onSuccess: () => setDone(null) });
    else if (text) setText(text, text.text).catch(() => {}); // the desk shows why it was refused
  };
  const mayUndo = Object.values(done?.back ?? {}).some(Boolean);
  return { said: done?.said, mayUndo, takeOut, putOn, setText, remove, decide, undo, forget: () => setDone(null) };
}
