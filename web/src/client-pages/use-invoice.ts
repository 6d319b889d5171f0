import { useEffect, useRef } from "react";
import { useAct } from "../api/act";
import { api, type Schema } from "../api/client";
import { useRead } from "../api/read";
import { fileWithLink } from "./use-link";

export const useInvoicePage = (secret: string) => useRead("/api/public/invoice", { secret });

/** Notes once that the page was opened: a mail scanner, which runs no script, does not. */
export function useOpened(secret: string, there: boolean) {
  const told = useRef(false);
  useEffect(() => {
    if (!there || told.current) return;
    told.current = true;
    api.post("/api/public/invoice/opened", { secret }).catch(() => {});
  }, [secret, there]);
}

export const useSay = (secret: string) =>
  useAct((body: Schema["Claiming"]) => api.post("/api/public/invoice/claims", { secret, body }));

/** What can be paid now and what it costs; asked again while a payment may still be on its way. */
export const useOffer = (secret: string, query: { amount: string; gift: string; kind: "" | "card" | "debit" }) =>
  useRead("/api/public/invoice/offer", { secret, query }, { keeps: true, every: 5_000 });

export const usePay = (secret: string) =>
  useAct((body: Schema["Typing"]) => api.post("/api/public/invoice/payments", { secret, body }));

/** Saves a file of the page, under the name that the server gives it. */
export const saveInvoiceFile = (secret: string, which: string) =>
  fileWithLink(`/api/public/invoice/files/${which}`, secret);
