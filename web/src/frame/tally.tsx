import { clsx } from "clsx";
import type { ReactNode } from "react";
import { Moneys, type Total } from "./figure";
import tallyCss from "./tally.module.css";

interface TallyProps {
  children: ReactNode;
  actions?: ReactNode;
  notice?: ReactNode;
  /** What its sums are read from: until it is known nothing is told. */
  of?: { data?: unknown };
}

/** What the selection adds up to, and the one main action. */
export function Tally({ children, actions, notice, of }: TallyProps) {
  return (
    <section className={tallyCss.tally} aria-label="Tally">
      <dl className={tallyCss.sums}>{(!of || of.data !== undefined) && children}</dl>
      <div className={tallyCss.tallyNotice} role="status">
        {notice}
      </div>
      <div className={tallyCss.tallyActions}>{actions}</div>
    </section>
  );
}

/** One sum of the tally with what it is. */
export function TallySum({ figure, what, lost }: { figure: ReactNode; what: string; lost?: boolean }) {
  return (
    <div className={lost ? clsx("lost", tallyCss.sum) : tallyCss.sum}>
      <dd>{figure}</dd>
      <dt>{what}</dt>
    </div>
  );
}

/** What an act gives away or leaves behind, shown before it is done; nothing if it is nothing. */
export function Loss({ of, what }: { of: Total[]; what: string }) {
  const some = of.filter((amount) => amount.minor !== 0);
  if (some.length === 0) return null;
  return <TallySum lost={some.some((amount) => amount.minor < 0)} figure={<Moneys of={some} />} what={what} />;
}
