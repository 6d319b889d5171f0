import type { ReactNode } from "react";

/** What the selection adds up to, and the one main action. */
export function Tally({ children, actions, notice }: { children: ReactNode; actions?: ReactNode; notice?: ReactNode }) {
  return (
    <section className="tally" aria-label="Tally">
      <dl className="sums">{children}</dl>
      <div className="tally-notice" role="status">
        {notice}
      </div>
      <div className="tally-actions">{actions}</div>
    </section>
  );
}

/** One sum of the tally with what it is. */
export function TallySum({ figure, what, lost }: { figure: ReactNode; what: string; lost?: boolean }) {
  return (
    <div className={lost ? "sum lost" : "sum"}>
      <dd>{figure}</dd>
      <dt>{what}</dt>
    </div>
  );
}
