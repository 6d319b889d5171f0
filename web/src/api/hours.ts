import type { Schema } from "./client";

type HoursAs = Schema["Session"]["hoursAs"];

let form: HoursAs = "decimal";

/** From now on hours are written as whoever is signed in reads them. */
export const writeHoursAs = (chosen: HoursAs) => {
  form = chosen;
};

const grouped = (whole: number) => String(whole).replace(/\B(?=(\d{3})+$)/g, ",");

/** To how many minutes hours are rounded in lists, half up. */
const steps: Record<HoursAs, number> = { decimal: 1, clock: 1, tenth: 6, quarter: 15 };

/** Minutes as hours: 4.2, with at least one and at most two decimals, or 4:12; rounded for who reads them so. */
export function hoursText(minutes: number): string {
  const step = steps[form];
  return exactly(Math.sign(minutes) * Math.floor((2 * Math.abs(minutes) + step) / (2 * step)) * step);
}

/** The same with every minute as itself, where it is typed over. */
export function exactly(minutes: number): string {
  const whole = Math.abs(minutes);
  const sign = minutes < 0 ? "−" : "";
  if (form === "clock") return `${sign}${grouped(Math.floor(whole / 60))}:${String(whole % 60).padStart(2, "0")}`;
  const hundredths = Math.round((whole * 100) / 60);
  const fraction = String(hundredths % 100)
    .padStart(2, "0")
    .replace(/0$/, "");
  return `${sign}${grouped(Math.floor(hundredths / 100))}.${fraction}`;
}

/** The same with its unit, as sentences and sums have it. */
export const hoursSaid = (minutes: number) => `${hoursText(minutes)}\u202fh`;

/** The same as it is typed again in this firm. */
export const hoursTyped = (minutes: number, mark: string) => exactly(minutes).replaceAll(",", "").replace(".", mark);

/** Sentences of the server have hours as 4:12, a narrow space and an h, which nobody types. */
const said = /(\d+):(\d\d)\u202fh/g;

/** What the server says, with its hours as they are read here. */
export const retold = (text: string) =>
  form === "clock" ? text : text.replace(said, (_, hours, minutes) => hoursSaid(hours * 60 + +minutes));
