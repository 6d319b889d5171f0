import { Select, type SelectProps } from "antd";
import type { Search } from "./use-sought";

export interface Choice<T> {
  value: T;
  label: string;
  /** Why it can't be chosen now. */
  why?: string;
}

interface Props<T> extends Omit<SelectProps<T, Choice<T> & { title: string }>, "options" | "onChange" | "aria-label"> {
  label: string;
  choices: readonly Choice<T>[];
  onChange: (value: T) => void;
  /** How what is typed is found, where not all choices are there. */
  search?: Search;
}

/** Beyond so many, one is found by typing. */
const overseen = 8;

/** One of several, in as much room as its words take. */
export function Pick<T extends string | number | boolean | null>({ label, choices, search, ...rest }: Props<T>) {
  return (
    <Select<T, Choice<T> & { title: string }>
      size="small"
      popupMatchSelectWidth={false}
      aria-label={label}
      showSearch={search ?? (choices.length > overseen ? { optionFilterProp: "label" } : false)}
      options={choices.map(({ why, ...choice }) => ({
        ...choice,
        label: why ? `${choice.label}: ${why}` : choice.label,
        title: why ?? choice.label,
        disabled: Boolean(why),
      }))}
      {...rest}
    />
  );
}

/** All of them, or one. */
export const orAll = <T extends string | number>(none: T, all: string, each: Iterable<readonly [T, string]>) => [
  { value: none, label: all },
  ...[...new Map(each)].map(([value, label]) => ({ value, label })),
];

/** Records and the like as choices, by their numbers. */
export const named = (each: readonly { id: number; name: string }[] = []) =>
  each.map(({ id, name }) => ({ value: id, label: name }));
