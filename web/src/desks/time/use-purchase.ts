import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useActKeys } from "../../api/act-keys";
import { api, keyHeader, of, type Schema } from "../../api/client";

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
export const useReckoning = (typed: TypedPurchase | null) =>
  useQuery({
    queryKey: ["purchase", "value", typed],
    queryFn: () => of(api.POST("/api/purchases/value", { body: typed as TypedPurchase })),
    enabled: typed !== null && typed.categoryId > 0 && Boolean(typed.amount || typed.units),
    placeholderData: keepPreviousData,
    retry: false,
  });

export function usePurchaseActs() {
  const queries = useQueryClient();
  const keys = useActKeys();
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
        : of(api.POST("/api/purchases", { params: { header: keyHeader(keys.keyOf(typed)) }, body: typed })),
    onSuccess: (_, { typed }) => {
      keys.done(typed);
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

/** A number as it is given back that was shown: digits after a point, four of them. */
const given = (units: number, decimals: number) => (units / 10 ** decimals).toFixed(4);

/** A purchase as it would be typed to be what it is. */
export function typedAgain(p: Purchase, decimals: number): TypedPurchase {
  return {
    personId: p.personId,
    categoryId: p.categoryId,
    day: p.day,
    supplier: p.supplier,
    text: p.text,
    reference: p.reference,
    units: p.units,
    perUnit: p.perUnit === undefined ? "" : given(p.perUnit, 4),
    amount: p.units ? "" : given(p.amount.minor, decimals),
    tax: p.tax.minor ? given(p.tax.minor, decimals) : "",
    currency: p.cost.currency,
    paidBy: p.paidBy,
    files: p.files,
    shares: p.shares.map((s) => ({
      id: s.id,
      engagementId: s.engagementId,
      phaseId: s.phaseId,
      amount: given(s.cost.minor, decimals),
      day: s.day,
      text: s.text,
      note: s.note,
      treatment: s.treatment,
      markup: s.markup ? given(s.markup, 4) : "",
      returns: s.returns,
      hold: s.hold,
    })),
  };
}
