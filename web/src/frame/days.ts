import dayjs, { type Dayjs } from "dayjs";

/** An ISO date as it is read: 30 Nov 2026. */
export const long = (iso: string) => (iso ? dayjs(iso).format("D MMM YYYY") : "");

/** Without the year: 30 Nov. */
export const short = (iso: string) => (iso ? dayjs(iso).format("D MMM") : "");

/** An instant as it is read: 30 Nov 2026, 14:02. */
export const instant = (iso: string) => dayjs(iso).format("D MMM YYYY, HH:mm");

/** When something was done: its business date, with the instant beside it where that is of another day. */
export const when = (day: string, at: string) =>
  dayjs(at).format("YYYY-MM-DD") === day ? instant(at) : `${long(day)} (recorded ${instant(at)})`;

/** How many days lie between two ISO dates. */
export const daysBetween = (from: string, to: string) => dayjs(to).diff(dayjs(from), "day");

/** The last day of the month before the given one: the usual cut-off. */
export const lastMonthEnd = (iso: string) => dayjs(iso).startOf("month").subtract(1, "day").format("YYYY-MM-DD");

export const isoDay = (d: Dayjs) => d.format("YYYY-MM-DD");

/** A day as a reader of a language writes it. */
export const dated = (iso: string, language: string) =>
  new Intl.DateTimeFormat(language, { dateStyle: "medium", timeZone: "UTC" }).format(new Date(iso));
