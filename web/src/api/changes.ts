import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { followChanges, keyOf, readAgain } from "./read";

/** How long after a look at what others did the next one comes, in milliseconds. */
const apart = 5_000;

/**
 * Follows what anybody writes: the rail is read again at once, what is shown a little later and never while something is
 * typed. Only a page in sight listens: a browser has few connections to one server.
 */
export function useChanges() {
  const queries = useQueryClient();
  useEffect(() => {
    let events: EventSource | undefined;
    let last = "";
    let looked = Date.now();
    let waiting: ReturnType<typeof setTimeout> | undefined;
    let later: ReturnType<typeof setTimeout> | undefined;
    const look = () => {
      waiting = undefined;
      if (typing() || queries.isMutating() > 0) return wait();
      looked = Date.now();
      readAgain(queries);
    };
    const wait = () => {
      waiting ??= setTimeout(look, Math.max(1_000, looked + apart - Date.now()));
    };
    // What one did oneself was read again by the act.
    const hear = ({ type, data }: MessageEvent<string>) => {
      if (last && data !== last) {
        queries.invalidateQueries({ queryKey: keyOf("/api/rail") });
        if (type === "others") wait();
      }
      last = data;
    };
    const listen = () => {
      clearTimeout(later);
      events?.close();
      events = undefined;
      followChanges(false);
      if (document.hidden) return;
      events = new EventSource("/api/events");
      events.addEventListener("own", hear);
      events.addEventListener("others", hear);
      events.onopen = () => followChanges(true);
      // After an answer that is none, such as of a server that starts, the browser does not ask again by itself.
      events.onerror = () => {
        followChanges(false);
        if (events?.readyState === EventSource.CLOSED) later = setTimeout(listen, apart);
      };
    };
    listen();
    document.addEventListener("visibilitychange", listen);
    return () => {
      clearTimeout(waiting);
      clearTimeout(later);
      events?.close();
      followChanges(false);
      document.removeEventListener("visibilitychange", listen);
    };
  }, [queries]);
}

const typing = () => document.activeElement?.matches("input, textarea, [role=combobox], [contenteditable]") ?? false;
