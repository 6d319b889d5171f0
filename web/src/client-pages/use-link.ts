import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useLocation } from "react-router";
import { api, of, type Schema } from "../api/client";

/** The secret of a link stands after the #, so that no server log has it; it goes along in a header. */
export function useSecret() {
  return useLocation().hash.slice(1);
}

const headers = (secret: string) => ({ params: { header: { "Link-Secret": secret } } });

export const useClientPage = (secret: string, chosen: Schema["Chosen"] | undefined) =>
  useQuery({
    queryKey: ["client-page", secret, chosen],
    queryFn: () =>
      chosen
        ? of(api.POST("/api/public/proposal/figures", { ...headers(secret), body: { chosen } }))
        : of(api.GET("/api/public/proposal", headers(secret))),
    placeholderData: (before) => before,
  });

/** Notes once that the page was opened: a mail scanner, which runs no script, does not. */
export function useSeen(secret: string, there: boolean) {
  const told = useRef(false);
  useEffect(() => {
    if (!there || told.current) return;
    told.current = true;
    api.POST("/api/public/proposal/seen", headers(secret)).catch(() => {});
  }, [secret, there]);
}

/** What a client can do on the page of a proposal. */
export function useClientActs(secret: string) {
  const queries = useQueryClient();
  const onSuccess = () => queries.invalidateQueries({ queryKey: ["client-page"] });
  const at = headers(secret);
  return {
    code: useMutation({ mutationFn: () => of(api.POST("/api/public/proposal/code", at)) }),
    way: useMutation({
      mutationFn: (body: Schema["GivenPaymentMethod"]) => of(api.POST("/api/public/proposal/way", { ...at, body })),
    }),
    accept: useMutation({
      mutationFn: (body: Schema["Signing"]) => of(api.POST("/api/public/proposal/acceptance", { ...at, body })),
      onSuccess,
    }),
    decline: useMutation({
      mutationFn: (text: string) => of(api.POST("/api/public/proposal/refusal", { ...at, body: { text } })),
      onSuccess,
    }),
    ask: useMutation({
      mutationFn: (text: string) => of(api.POST("/api/public/proposal/questions", { ...at, body: { text } })),
      onSuccess,
    }),
    newer: useMutation({ mutationFn: () => of(api.POST("/api/public/proposal/newer", at)) }),
    pass: useMutation({
      mutationFn: (body: { name: string; mail: string; word: string }) =>
        of(api.POST("/api/public/proposal/passing", { ...at, body })),
    }),
  };
}

/** Saves the signed copy, or the document of terms, as a file. */
export async function saveFile(secret: string, which: "signed" | "terms", name: string) {
  const { data } = await api.GET(`/api/public/proposal/${which}`, { ...headers(secret), parseAs: "blob" });
  if (!data) return;
  const address = URL.createObjectURL(data as unknown as Blob);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}

export const useQuestions = (secret: string) =>
  useQuery({
    queryKey: ["questions", secret],
    queryFn: () => of(api.GET("/api/public/questions", headers(secret))),
  });

export function useAnswerQuestions(secret: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (answers: string[]) => of(api.POST("/api/public/questions", { ...headers(secret), body: { answers } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["questions"] }),
  });
}
