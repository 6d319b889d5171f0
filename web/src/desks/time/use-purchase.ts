import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, of, type Schema } from "../../api/client";
import { typedNumber } from "../../frame/figure";
import type { Typing } from "./use-cells";

export type Purchase = Schema["Purchase"];
export type TypedPurchase = Schema["TypedPurchase"];
export type TypedShare = Schema["TypedShare"];

export const usePurchase = (id: number) =>
  useQuery({
    queryKey: ["purchase", id],
    queryFn: () => of(api.GET("/api/purchases/{id}", { params: { path: { id } } })),
    enabled: id !== 0,
    placeholderData: keepPreviousData,
  });

/** What a purchase comes to while it is typed. */
export const useReckoning = (typed: TypedPurchase | null, purchase = 0) =>
  useQuery({
    queryKey: ["purchase", "value", purchase, typed],
    queryFn: () =>
      of(api.POST("/api/purchases/value", { params: { query: { purchase } }, body: typed as TypedPurchase })),
    enabled: typed !== null && typed.categoryId > 0 && Boolean(typed.amount || typed.units),
    placeholderData: keepPreviousData,
    retry: false,
  });

export function usePurchaseActs() {
  const queries = useQueryClient();
  const onSuccess = () => {
    for (const key of ["work", "purchase", "rail", "unbilled", "history"])
      queries.invalidateQueries({ queryKey: [key] });
  };
  const save = useMutation({
    mutationFn: ({ before, typed }: { before?: Purchase; typed: TypedPurchase }) =>
      before
        ? of(
            api.PUT("/api/purchases/{id}", {
              params: { path: { id: before.id }, query: { version: before.version } },
              body: typed,
            }),
          )
        : of(api.POST("/api/purchases", { body: typed })),
    onSuccess: () => {
      onSuccess();
    },
  });
  const remove = useMutation({
    mutationFn: (gone: Purchase) =>
      of(api.DELETE("/api/purchases/{id}", { params: { path: { id: gone.id }, query: { version: gone.version } } })),
    onSuccess,
  });
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
