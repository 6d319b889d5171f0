import type { Treatment } from "./use-week";

/** How an entry is billed, where it is chosen. */
export const treatments: { value: Treatment; label: string }[] = [
  { value: "billable", label: "billable" },
  { value: "out_of_scope", label: "outside the fee" },
  { value: "no_charge", label: "no charge" },
  { value: "not_billable", label: "not billable" },
];

/** How work can be billed: what is charged, not where it is not billable. */
export const treatmentsFor = (billable: boolean, what: string) =>
  treatments.map((one) =>
    billable || one.value === "no_charge" || one.value === "not_billable"
      ? one
      : { ...one, why: `${what} is not billable` },
  );

const short = { billable: "yes", out_of_scope: "outside the fee", no_charge: "no charge", not_billable: "no" } as const;

/** Whether an entry is billed, in the column of that name. */
export const billedWord = (of: { treatment: Treatment; covered?: boolean }) =>
  of.covered ? "in the fee" : short[of.treatment];

const places = {
  unbilled: "unbilled",
  reserved: "on a draft",
  billed: "billed",
  written_off: "written off",
  not_billable: "not billable",
} as const;

/** Where an entry or an expense stands. */
export const stateWord = (of: { billing: keyof typeof places; hold: string; invoice: string; covered?: boolean }) => {
  if (of.billing === "billed" && of.invoice) return `on ${of.invoice}`;
  if (of.billing === "unbilled" && of.hold) return "on hold";
  return of.billing === "unbilled" && of.covered ? "in the fee" : places[of.billing];
};
