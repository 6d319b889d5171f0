import { useState } from "react";
import { useSession } from "../../api/session";

/** What a person has made of a list: which columns they left out, how wide others are, in which order it stands. */
export interface Kept {
  hidden: string[];
  widths: Record<string, number>;
  order?: { column: string; down: boolean };
}

const nothing: Kept = { hidden: [], widths: {} };

/** Read from this browser; what can't be read is as at first. */
function read(key: string): Kept {
  try {
    return { ...nothing, ...JSON.parse(localStorage.getItem(key) ?? "{}") };
  } catch {
    return nothing;
  }
}

/** The shape of a list, kept in this browser for the person who is signed in. */
export function useKept(list: string) {
  const key = `dorvet.list.${useSession().personId}.${list}`;
  const [state, setState] = useState(() => ({ key, kept: read(key) }));
  const kept = state.key === key ? state.kept : read(key); // the same place may show another list
  const keep = (change: Partial<Kept>) => {
    const next = { ...kept, ...change };
    setState({ key, kept: next });
    try {
      localStorage.setItem(key, JSON.stringify(next));
    } catch {
      // A browser that keeps nothing shows it so until it is closed.
    }
  };
  return { kept, keep };
}
