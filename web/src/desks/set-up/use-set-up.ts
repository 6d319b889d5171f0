import { useSearchParams } from "react-router";
import { useRead } from "../../api/read";

export const useIndex = () => useRead("/api/set-up");

/** What of a list is shown, and which record is open: it lives in the address. */
export function useListAddress() {
  const [search, setSearch] = useSearchParams();
  const change = (part: Record<string, string | undefined>) => {
    const next = new URLSearchParams(window.location.search);
    for (const [name, value] of Object.entries(part)) {
      if (value) next.set(name, value);
      else next.delete(name);
    }
    setSearch(next, { replace: true });
  };
  return {
    text: search.get("text") ?? "",
    inactive: search.get("inactive") === "yes",
    open: Number(search.get("open") ?? 0),
    making: search.get("new") === "yes",
    change,
  };
}

/** The changes of bank details, roles and limits that wait for a second administrator. */
export const useWaitingChanges = (asked = true) => useRead("/api/changes", undefined, { when: asked });
