import { clsx } from "clsx";
import type { ReactNode } from "react";
import tableCss from "./table.module.css";

/** What is known of something, a line each. */
export function Facts({ caption, label, children }: { caption?: ReactNode; label?: string; children: ReactNode }) {
  return (
    <table className={tableCss.plain} aria-label={label}>
      {caption && <caption>{caption}</caption>}
      <tbody>{children}</tbody>
    </table>
  );
}

interface FactProps {
  of: ReactNode;
  /** It is what the lines before it come to. */
  sum?: boolean;
  tone?: string;
  children: ReactNode;
}

/** One of them; nothing where there is nothing to say. */
export function Fact({ of, sum, tone, children }: FactProps) {
  if (children === null || children === undefined || children === false || children === "") return null;
  return (
    <tr className={sum ? tableCss.sumRow : undefined}>
      <th scope="row">{of}</th>
      <td className={clsx(tableCss.fact, tone)}>{children}</td>
    </tr>
  );
}
