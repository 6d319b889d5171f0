import { useState } from "react";

/** What is typed into a form, field by field, until it is done. */
export interface Typing<T> {
  typed: T;
  set: (change: Partial<T>) => void;
}

/** The fields of a form, as they stand at first. */
export function useTyping<T extends object>(first: T | (() => T)): Typing<T> {
  const [typed, setTyped] = useState(first);
  return { typed, set: (change) => setTyped((now) => ({ ...now, ...change })) };
}

/** The fields of a form that have values of a kind. */
export type NamesOf<T, V> = { [K in keyof T]: V extends T[K] ? K : never }[keyof T] & string;
