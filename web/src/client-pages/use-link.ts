import { useEffect, useRef } from "react";
import { useLocation } from "react-router";
import { useAct } from "../api/act";
import { api, type Schema } from "../api/client";
import { useAsked, useRead } from "../api/read";
import { save } from "../api/save";

/** The secret of a link stands after the #, so that no server log has it; it goes along in a header. */
export function useSecret() {
  return useLocation().hash.slice(1);
}

export function useClientPage(secret: string, chosen: Schema["Chosen"] | undefined) {
  const plain = useRead("/api/public/proposal", { secret }, { when: !chosen });
  const figures = useAsked(
    "/api/public/proposal/figures",
    { secret, body: { chosen: chosen as Schema["Chosen"] } },
    { when: Boolean(chosen), keeps: true },
  );
  return chosen && figures.data ? figures : plain;
}

/** Notes once that the page was opened: a mail scanner, which runs no script, does not. */
export function useSeen(secret: string, there: boolean) {
  const told = useRef(false);
  useEffect(() => {
    if (!there || told.current) return;
    told.current = true;
    api.post("/api/public/proposal/seen", { secret }).catch(() => {});
  }, [secret, there]);
}

const silent = { changesNothing: true };

/** What a client can do on the page of a proposal. */
export function useClientActs(secret: string) {
  return {
    code: useAct(() => api.post("/api/public/proposal/code", { secret }), silent),
    way: useAct((body: Schema["GivenMethod"]) => api.post("/api/public/proposal/way", { secret, body }), silent),
    accept: useAct((body: Schema["Signing"]) => api.post("/api/public/proposal/acceptance", { secret, body })),
    decline: useAct((text: string) => api.post("/api/public/proposal/refusal", { secret, body: { text } })),
    ask: useAct((text: string) => api.post("/api/public/proposal/questions", { secret, body: { text } })),
    newer: useAct(() => api.post("/api/public/proposal/newer", { secret }), silent),
    pass: useAct(
      (body: { name: string; mail: string; word: string }) =>
        api.post("/api/public/proposal/passing", { secret, body }),
      silent,
    ),
  };
}

/** Saves a file that a link opens, under the name that the server gives it. */
export const fileWithLink = async (address: string, secret: string) =>
  save(await fetch(address, { headers: { "Link-Secret": secret } }));

/** Saves the signed copy, or the document of terms. */
export const saveFile = (secret: string, which: "signed" | "terms") =>
  fileWithLink(`/api/public/proposal/${which}`, secret);

export const useQuestions = (secret: string) => useRead("/api/public/questions", { secret });

export const useAnswerQuestions = (secret: string) =>
  useAct((answers: string[]) => api.post("/api/public/questions", { secret, body: { answers } }));
