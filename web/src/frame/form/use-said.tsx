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
  return read.data
    ? { said: `= ${read.data.said}`, wrong: false }
    : read.error && { said: read.error.message, wrong: true };
}

/** A form of a field of a record, where it can be read as it is typed. */
export const readAs = (form: string) => forms.find((as) => as === form);

const forms: ReadAs[] = ["day", "hours", "terms", "schedule", "amount", "percent"];

/** What was read, or why nothing could be. */
export function Said({ said, wrong }: { said: string; wrong: boolean }) {
  return (
    <span className={wrong ? "lost" : undefined} role="status">
      {said}
    </span>
  );
}
