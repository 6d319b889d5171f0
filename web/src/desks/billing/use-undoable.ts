import { useState } from "react";
import type { Line, useDraftActs } from "./use-billing";

/** What was just done to a draft, and which act takes it back. */
interface Done {
  said: string;
  back: { putOn?: Line; takeOut?: Line; setText?: Line };
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
  const undo = () => {
    const { putOn: out, takeOut: on, setText: text } = done?.back ?? {};
    if (out) putOn(out);
    else if (on) takeOut(on);
    else if (text) setText(text, text.text).catch(() => {}); // the desk shows why it was refused
  };
  return { said: done?.said, takeOut, putOn, setText, undo, forget: () => setDone(null) };
}
