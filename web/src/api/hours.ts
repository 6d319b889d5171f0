import type { Schema } from "./client";

type HoursAs = Schema["Session"]["hoursAs"];

let form: HoursAs = "decimal";

/** From now on hours are written as whoever is signed in reads them. */
export const writeHoursAs = (chosen: HoursAs) => {
  form = chosen;
};

const grouped = (whole: number) => String(whole).replace(/\B(?=(\d{3})+$)/g, ",");

/** Minutes as hours: 4.2, with at least one and at most two decimals, or 4:12. Every minute is read again as itself. */
export function hoursText(minutes: number): string {
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
export const hoursTyped = (minutes: number, mark: string) => hoursText(minutes).replaceAll(",", "").replace(".", mark);

/** Sentences of the server have hours as 4:12, a narrow space and an h, which nobody types. */
const said = /(\d+):(\d\d)\u202fh/g;

/** What the server says, with its hours as they are read here. */
export const retold = (text: string) =>
  form === "clock" ? text : text.replace(said, (_, hours, minutes) => hoursSaid(hours * 60 + +minutes));
