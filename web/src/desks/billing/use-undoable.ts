import { useState } from "react";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { typedNumber } from "../../frame/figure";
import { changes, type Line, noLine, nothingBack, type useDraftActs } from "./use-billing";

/** What was just done to a draft, and which act takes it back. */
interface Done {
  said: string;
  back?: () => void;
}

/** What an act was about: the line, or how many. */
const about = (lines: Line[]) => (lines.length === 1 ? `“${lines[0]?.text}”` : `${lines.length} lines`);

const portionsOf = (lines: Line[]) => lines.map((line) => line.portionId).filter(Boolean);

/** The acts on a draft's lines, and the undo of the last one. */
export function useUndoable({ change }: ReturnType<typeof useDraftActs>) {
  const [done, setDone] = useState<Done | null>(null);
  const restored = useRestored();
  const forget = () => setDone(null);
  const takeOut = (lines: Line[]) => {
    const byHand = lines.filter((line) => !line.portionId).map((line) => line.lineId);
    const back = restored(lines);
    change.mutate(changes.takeOut({ portionIds: portionsOf(lines), lineIds: byHand }), {
      onSuccess: () =>
        setDone({
          said: `Took out ${about(lines)}${byHand.length === 0 ? "; unbilled again" : ""}.`,
          back: back && (() => change.mutate(changes.putOn(back), { onSuccess: forget })),
        }),
    });
  };
  const putOn = (lines: Line[], release: boolean) =>
    change.mutate(changes.putOn({ ...nothingBack, portionIds: portionsOf(lines), release }), {
      onSuccess: (changed) => {
        const there = changed.lines.filter((line) => lines.some((l) => l.portionId === line.portionId));
        setDone({ said: `Put on ${about(lines)}.`, back: release ? undefined : () => takeOut(there) });
      },
    });
  const setText = async (line: Line, text: string) => {
    await change.mutateAsync(changes.setText(line.lineId, text));
    const back = () => change.mutate(changes.setText(line.lineId, line.text), { onSuccess: forget });
    setDone({ said: `Changed “${line.text}”.`, back });
  };
  const decide = async (lines: Line[], decision: Schema["Decision"], said: string) => {
    const changed = await change.mutateAsync(changes.decide(portionsOf(lines), decision));
    const back = () => change.mutate(changes.undo(changed.actId), { onSuccess: forget });
    setDone({ said: `${said} ${about(lines)}.`, back: changed.actId ? back : undefined });
  };
  return { said: done?.said, undo: done?.back, takeOut, putOn, setText, decide, forget };
}

/** What puts lines on a draft again, if all of them can be. */
function useRestored() {
  const { decimals, mark } = useSession();
  return (lines: Line[]): Schema["Back"] | undefined => {
    const others = lines.filter((line) => !line.portionId);
    if (others.some((line) => !line.chargeId && line.kind !== "by_hand")) return undefined;
    return {
      ...nothingBack,
      portionIds: portionsOf(lines),
      chargeIds: others.map((line) => line.chargeId).filter(Boolean),
      lines: others
        .filter((line) => !line.chargeId)
        .map((line) => ({
          ...noLine,
          engagementId: line.engagementId,
          text: line.text,
          taxCode: line.taxCode,
          kind: line.ofKind,
          ...(line.price
            ? { quantity: line.quantity, unit: line.unit, price: line.price }
            : { amount: typedNumber(line.amount.minor, decimals[line.amount.currency] ?? 2, mark) }),
        })),
    };
  };
}
