import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useAsked, useRead } from "../../api/read";
import { typedNumber } from "../../frame/figure";
import type { Typing } from "./use-cells";

export type Purchase = Schema["Purchase"];
export type TypedPurchase = Schema["TypedPurchase"];
export type TypedShare = Schema["TypedShare"];

export const usePurchase = (id: number) =>
  useRead("/api/purchases/{id}", { path: { id } }, { when: id !== 0, keeps: true });

/** What a purchase comes to while it is typed. */
export const useReckoning = (typed: TypedPurchase | null, purchase = 0) =>
  useAsked(
    "/api/purchases/value",
    { query: { purchase }, body: typed as TypedPurchase },
    { when: typed !== null && typed.categoryId > 0 && Boolean(typed.amount || typed.units), keeps: true },
  );

export function usePurchaseActs() {
  const save = useAct(({ before, typed }: { before?: Purchase; typed: TypedPurchase }) =>
    before
      ? api.put("/api/purchases/{id}", {
          path: { id: before.id },
          query: { version: before.version },
          body: typed,
        })
      : api.post("/api/purchases", { body: typed }),
  );
  const remove = useAct((gone: Purchase) =>
    api.delete("/api/purchases/{id}", { path: { id: gone.id }, query: { version: gone.version } }),
  );
  return { save, remove };
}

/** A purchase as it would be typed to be what it is. */
export function typedAgain(p: Purchase, { mark, decimals }: Typing): TypedPurchase {
  const places = decimals[p.cost.currency] ?? 2;
  const amount = (minor: number) => typedNumber(minor, places, mark);
  return {
    personId: p.personId,
    categoryId: p.categoryId,
    day: p.day,
    supplier: p.supplier,
    text: p.text,
    reference: p.reference,
    units: p.units.replace(".", mark),
    perUnit: p.perUnit === undefined ? "" : typedNumber(p.perUnit, 4, mark, 2),
    amount: p.units ? "" : amount(p.amount.minor),
    tax: p.tax.minor ? amount(p.tax.minor) : "",
    currency: p.cost.currency,
    paidBy: p.paidBy,
    files: p.files,
    shares: p.shares.map((s) => ({
      id: s.id,
      engagementId: s.engagementId,
      phaseId: s.phaseId,
      amount: amount(s.cost.minor),
      day: s.day,
      text: s.text,
      note: s.note,
      treatment: s.treatment,
      markup: s.markup ? typedNumber(s.markup, 4, mark, 0) : "",
      returns: s.returns,
      hold: s.hold,
    })),
  };
}
