import type { Amount } from "../../api/client";
import tableCss from "../../frame/table.module.css";

const bands = ["0 to 30", "31 to 60", "61 to 90", "over 90"];

/** Unbilled value by age, with the age of the oldest beside it. */
export function AgeStrip({ ages, oldest }: { ages: Amount[]; oldest: number }) {
  const whole = ages.reduce((sum, age) => sum + Math.max(0, age.minor), 0);
  const words = ages.flatMap((age, band) => (age.minor > 0 ? [`${bands[band]} days`] : [])).join(", ");
  return (
    <span className={tableCss.ages} title={words}>
      <span className={tableCss.ageStrip} aria-hidden>
        {ages.map((age, band) => {
          const share = whole ? (100 * Math.max(0, age.minor)) / whole : 0;
          // biome-ignore lint/suspicious/noArrayIndexKey: there are always four bands
          return share > 0 && <span key={band} style={{ flexGrow: share, background: `var(--age-${band})` }} />;
        })}
      </span>
      <span className={oldest > 90 ? "lost" : "soft"}>{oldest}</span>
    </span>
  );
}
