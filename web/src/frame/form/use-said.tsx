import { Problem } from "../../api/client";
import { useRead } from "../../api/read";
import { useSettled } from "../use-settled";

/** What can be read as it is typed: by the function of the core that reads it when it is kept. */
export type ReadAs = "day" | "hours" | "terms" | "schedule" | "amount" | "percent";

/** What is read in a text while it is typed, or why nothing can be. */
export function useSaid(as: ReadAs | undefined, typed: string | undefined) {
  const asked = useSettled(typed ?? "", 120).trim();
  const when = as !== undefined && Boolean(typed) && asked !== "";
  const read = useRead("/api/typed", { query: { as: as ?? "day", typed: asked } }, { when, holds: 60_000 });
  if (!when || asked !== typed?.trim()) return undefined;
  if (read.data) return { said: `= ${read.data.said}`, wrong: false };
  // Only what can't be read is said of the text: a server that fails says nothing about it.
  if (read.error instanceof Problem && read.error.status === 422) return { said: read.error.message, wrong: true };
  return undefined;
}

/** A form of a field of a record, where it can be read as it is typed; its hours are not those of one day. */
export const readAs = (form: string) => forms.find((as) => as === form);

const forms: ReadAs[] = ["day", "terms", "schedule", "amount", "percent"];

/** What was read, or why nothing could be. */
export function Said({ said, wrong }: { said: string; wrong: boolean }) {
  return (
    <span className={wrong ? "lost" : undefined} role="status">
      {said}
    </span>
  );
}
