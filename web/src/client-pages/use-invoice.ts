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

/** Saves a file of the page, under the name that the server gives it. */
export const saveInvoiceFile = (secret: string, which: string) =>
  fileWithLink(`/api/public/invoice/files/${which}`, secret);
