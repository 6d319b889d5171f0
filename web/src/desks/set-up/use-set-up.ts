import { useRead } from "../../api/read";
import { useAddress } from "../../frame/address";

export const useIndex = () => useRead("/api/set-up");

/** What of a list is shown, and which record is open: it lives in the address. */
export function useListAddress() {
  const { search, change } = useAddress();
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
