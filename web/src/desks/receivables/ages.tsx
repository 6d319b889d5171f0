import type { Amount } from "../../api/client";
import { useMoneyText } from "../../frame/figure";
import tableCss from "../../frame/table.module.css";

/** The bands of days late, in words. */
export const bandWords = ["not due", "1–30", "31–60", "61–90", "over 90"];

const colours = ["var(--hairline)", "var(--age-0)", "var(--age-1)", "var(--age-2)", "var(--age-3)"];

/** How old what is owed is: a strip by band, each part with its figure when it is pointed at, and read out. */
export function AgeBands({ of }: { of: Amount[] }) {
  const money = useMoneyText();
  const total = of.reduce((sum, amount) => sum + Math.max(0, amount.minor), 0);
  if (total === 0) return null;
  const said = of
    .map((amount, band) => (amount.minor ? `${bandWords[band]} ${money(amount)}` : ""))
    .filter(Boolean)
    .join(", ");
  return (
    <span className={tableCss.ageStrip} role="img" aria-label={said} title={said}>
      {of.map((amount, band) =>
        amount.minor > 0 ? (
          <span key={bandWords[band]} style={{ flexGrow: amount.minor / total, background: colours[band] }} />
        ) : null,
      )}
    </span>
  );
}
