import type { Amount } from "../api/client";
import { hoursText } from "../api/hours";
import { useSession } from "../api/session";

const minus = "−";

/** Whole minor units as text: 1,234.50, with U+2212 as minus. */
export function fixed(units: number, decimals: number): string {
  const digits = Math.abs(units)
    .toString()
    .padStart(decimals + 1, "0");
  const whole = digits.slice(0, digits.length - decimals).replace(/\B(?=(\d{3})+$)/g, ",");
  const fraction = decimals > 0 ? `.${digits.slice(-decimals)}` : "";
  return (units < 0 ? minus : "") + whole + fraction;
}

/** Units as they are typed again: without grouping, with the firm's mark, and without needless zeros beyond the least. */
export function typedNumber(units: number, decimals: number, mark: string, least = decimals): string {
  const text = fixed(units, decimals).replaceAll(",", "").replace(minus, "-");
  const zeros = decimals > least ? new RegExp(`0{1,${decimals - least}}$`) : /$^/;
  return text.replace(zeros, "").replace(/\.$/, "").replace(".", mark);
}

/** A rate in ten-thousandths, with at least two decimals. */
export const rateText = (tenThousandths: number) => fixed(tenThousandths, 4).replace(/0{1,2}$/, "");

/** How amounts read for this firm: without the currency if it is the firm's. */
export function useMoneyText() {
  const { decimals, currency } = useSession();
  return (amount: Amount, bare = false) => {
    const text = fixed(amount.minor, decimals[amount.currency] ?? 2);
    return bare || amount.currency === currency ? text : `${amount.currency} ${text}`;
  };
}

/** An amount; zero reads as a dash unless it says otherwise. */
export function Money({ of, zero = "–", bare }: { of: Amount; zero?: string; bare?: boolean }) {
  const text = useMoneyText();
  return <span className="figure">{of.minor === 0 ? zero : text(of, bare)}</span>;
}

/** Amounts of several currencies, one below the other; none is a dash. */
export function Moneys({ of, zero = "–" }: { of: Amount[]; zero?: string }) {
  if (of.length === 0) return <span className="figure">{zero}</span>;
  return (
    <>
      {of.map((amount) => (
        <div key={amount.currency}>
          <Money of={amount} zero={zero} />
        </div>
      ))}
    </>
  );
}

/** Sums by currency, without those that come to nothing. */
export function summed(amounts: (Amount | undefined)[]): Amount[] {
  const sums = new Map<string, number>();
  for (const amount of amounts) if (amount) sums.set(amount.currency, (sums.get(amount.currency) ?? 0) + amount.minor);
  return [...sums].map(([currency, minor]) => ({ currency, minor })).filter((sum) => sum.minor !== 0);
}

/** Whole units of the firm's currency, for the rail. */
export function useRoundText() {
  const { decimals } = useSession();
  return (amount: Amount) => fixed(Math.round(amount.minor / 10 ** (decimals[amount.currency] ?? 2)), 0);
}

/** Minutes as hours, or a dash for none. */
export const hours = (minutes: number, zero = "–") => (minutes === 0 ? zero : hoursText(minutes));
