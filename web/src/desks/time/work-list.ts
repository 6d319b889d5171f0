import { useCallback, useState } from "react";
import { pageSize, type Sought, useWorkPages, type WorkPage } from "./use-work";

/** A long list of what is sought: its rows are read as they come into sight. */
export function useWorkRows<T>(sought: Sought, rowsOf: (page: WorkPage) => T[]) {
  const [[first, last], setSight] = useState([0, 1]);
  const pages = Array.from({ length: last - first }, (_, i) => first + i);
  const { byPage } = useWorkPages(sought, pages);
  const see = useCallback((from: number, to: number) => {
    const sight = [Math.floor(from / pageSize), Math.max(1, Math.ceil(to / pageSize))] as const;
    setSight((before) => (before[0] === sight[0] && before[1] === sight[1] ? before : [...sight]));
  }, []);
  const at = (index: number): T | undefined => {
    const page = byPage.get(Math.floor(index / pageSize));
    return page && rowsOf(page)[index % pageSize];
  };
  return { at, see };
}
