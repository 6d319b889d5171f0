import { useSearchParams } from "react-router";

/**
 * What the address says, and changes of it: nothing takes a part out. They start from the address itself, not from what
 * was last drawn: a second change may come before the first is drawn.
 */
export function useAddress() {
  const [search, setSearch] = useSearchParams();
  const change = (part: Record<string, string | undefined>, how: { replace?: boolean } = { replace: true }) => {
    const next = new URLSearchParams(window.location.search);
    for (const [name, value] of Object.entries(part)) {
      if (value) next.set(name, value);
      else next.delete(name);
    }
    setSearch(next, how);
  };
  return { search, change };
}
