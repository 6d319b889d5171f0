import { type UseQueryOptions, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSettled } from "./use-settled";

/** How many choices the server gives together; of more, one types what is meant. */
export const together = 200;

/** How a choice finds what is typed. */
export interface Search {
  onSearch: (typed: string) => void;
  filterOption: false | ((typed: string, option?: { label?: string }) => boolean);
}

/** Every word that is typed is in the label. */
const byWords: Search["filterOption"] = (typed, option) => {
  const label = (option?.label ?? "").toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => label.includes(word));
};

/**
 * What can be chosen. Where it is few, all of it is there and is found in the page; of many the server gives those that
 * are like what is typed. Until they have come, only what is there and like it can be chosen, so that Enter never takes
 * something else.
 */
export function useSought<T>(ask: (text: string, when: boolean) => UseQueryOptions<T[]>) {
  const [typed, onSearch] = useState("");
  const text = useSettled(typed.trim(), 120);
  const all = useQuery(ask("", true));
  const many = (all.data?.length ?? 0) >= together;
  const found = useQuery(ask(text, many && text !== ""));
  const fresh = many && text !== "" && text === typed.trim() && found.data !== undefined;
  const search: Search = { onSearch, filterOption: fresh ? false : byWords };
  return { data: fresh ? found.data : all.data, search };
}
