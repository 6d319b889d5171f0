import type { Schema } from "../api/client";
import { useRead } from "../api/read";
import { when } from "./days";
import explainCss from "./explain.module.css";
import historyCss from "./history.module.css";

const own: Record<string, "/api/records/{kind}/{id}/history"> = Object.fromEntries(
  ["invoices", "runs", "time-entries", "purchases", "proposals"].map((of) => [of, `/api/${of}/{id}/history` as never]),
);

/** Who did what to an entry, an invoice, a proposal or a record of a kind, and when; latest first. */
export function History({ subject, id }: { subject: string; id: number }) {
  const history = useRead(own[subject] ?? "/api/records/{kind}/{id}/history", { path: { kind: subject, id } });
  return <Acts of={history.data ?? []} />;
}

/** Acts as they are read: what, why, what became what, who and when. */
export function Acts({ of: acts }: { of: Schema["HistoryRow"][] }) {
  return (
    <section aria-label="History" className={historyCss.history}>
      <h2 className="sub">History</h2>
      <ol>
        {acts.map((row) => (
          <li key={row.at + row.summary}>
            {row.summary}
            {row.reason && `, because ${row.reason}`}
            <Changes of={changes(row.before, row.after)} />
            <span className="soft">
              {row.who}, {when(row.day, row.at)}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

const shownChanges = 4;

/** What changed; when it was much, the rest opens. */
function Changes({ of }: { of: string[] }) {
  const line = (change: string) => (
    <span className={explainCss.stepDetail} key={change}>
      {change}
    </span>
  );
  if (of.length <= shownChanges + 1) return <>{of.map(line)}</>;
  return (
    <>
      {of.slice(0, shownChanges).map(line)}
      <details>
        <summary className="link">and {of.length - shownChanges} more</summary>
        {of.slice(shownChanges).map(line)}
      </details>
    </>
  );
}

type Kept = string | Record<string, unknown>;

const parse = (json?: string): Kept | undefined => (json ? JSON.parse(json) : undefined);

/** What became what, where both are known: a text, or the parts of a record that differ. */
function changes(before?: string, after?: string): string[] {
  const [was, is] = [parse(before), parse(after)];
  if (was === undefined || is === undefined) return [];
  if (typeof was === "string" || typeof is === "string") return [`from “${was}” to “${is}”`];
  return [...new Set([...Object.keys(was), ...Object.keys(is)])]
    .filter((part) => was[part] !== is[part])
    .map((part) => `${part}: ${was[part] || "nothing"} → ${is[part] || "nothing"}`);
}
