import type { Amount, Step } from "../api/client";
import { hoursText } from "../api/hours";
import { useSession } from "../api/session";
import { Explained } from "./explain";

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

/** An amount, or a total that knows what it was made of, and opens. */
export type Total = Amount & { explanation?: Step };

/** An amount; zero reads as a dash unless it says otherwise. */
export function Money({ of, zero = "–", bare }: { of: Total; zero?: string; bare?: boolean }) {
  const text = useMoneyText();
  if (of.minor === 0 || !of.explanation)
    return <span className="figure">{of.minor === 0 ? zero : text(of, bare)}</span>;
  return (
    <Explained step={of.explanation} label={of.explanation.label}>
      {text(of, bare)}
    </Explained>
  );
}

/** Amounts of several currencies, one below the other; none is a dash. */
export function Moneys({ of, zero = "–", bare }: { of: Total[]; zero?: string; bare?: boolean }) {
  if (of.length === 0) return <span className="figure">{zero}</span>;
  return (
    <>
      {of.map((amount) => (
        <div key={amount.currency}>
          <Money of={amount} zero={zero} bare={bare} />
        </div>
      ))}
    </>
  );
}

/** Sums by currency, without those that come to nothing. */
export function summed(amounts: Amount[]): Amount[] {
  const sums = [...Map.groupBy(amounts, (amount) => amount.currency)].map(([currency, own]) => ({
    currency,
    minor: own.reduce((sum, amount) => sum + amount.minor, 0),
  }));
  return sums.filter((sum) => sum.minor !== 0);
}

/** What is added up on a page: an amount and whose it is. */
export interface Part {
  of: string;
  amount?: Amount;
}

/** More are told as one: they are not read. */
const told = 60;

/** Parts added up by currency, each sum with its parts; what comes to nothing is left out. */
export function Sums({ label, parts, ...look }: { label: string; parts: Part[]; zero?: string; bare?: boolean }) {
  const { decimals } = useSession();
  const totals = [...Map.groupBy(parts, (part) => part.amount?.currency ?? "")].map(([currency, own]) => {
    const figure = (minor: number) => fixed(minor, decimals[currency] ?? 2);
    const added = (some: Part[]) => some.reduce((sum, part) => sum + (part.amount?.minor ?? 0), 0);
    const some = [...Map.groupBy(own, (part) => part.of)].filter(([, same]) => added(same) !== 0);
    const steps = some.slice(0, told).map(([label, same]) => ({ label, figure: figure(added(same)) }));
    const others = some.slice(told).flatMap(([, same]) => same);
    if (others.length > 0) steps.push({ label: `${some.length - told} others`, figure: figure(added(others)) });
    return { currency, minor: added(own), explanation: { label, figure: figure(added(own)), steps } };
  });
  return <Moneys of={totals.filter((total) => total.minor !== 0)} {...look} />;
}

/** Whole units of the firm's currency, for the rail. */
export function useRoundText() {
  const { decimals } = useSession();
  return (amount: Amount) => fixed(Math.round(amount.minor / 10 ** (decimals[amount.currency] ?? 2)), 0);
}

/** Minutes as hours, or a dash for none. */
export const hours = (minutes: number, zero = "–") => (minutes === 0 ? zero : hoursText(minutes));
