import { useNavigate } from "react-router";
import { useAct } from "../api/act";
import { api, type Schema } from "../api/client";
import { useRead } from "../api/read";
import { fileWithLink } from "./use-link";

export type Account = Schema["ClientAccount"];

const silent = { changesNothing: true };

/** Opening the account from the page of an invoice: a code by mail, then typed. */
export function useAccountCode(secret: string) {
  const navigate = useNavigate();
  return {
    ask: useAct((mail: string) => api.post("/api/public/invoice/account-code", { secret, body: { mail } }), silent),
    open: useAct((code: string) => api.post("/api/public/invoice/account", { secret, body: { code } }), {
      ...silent,
      done: (opened) => {
        navigate(`/client#${opened.secret}`);
      },
    }),
  };
}

export const useAccount = (secret: string) => useRead("/api/public/account", { secret });

/** What is done from the account; what opens has a link of its own. */
export function useAccountActs(secret: string) {
  const navigate = useNavigate();
  const opens = (page: string) => ({
    ...silent,
    done: (opened: Schema["OpenedLink"]) => {
      navigate(`${page}#${opened.secret}`);
    },
  });
  return {
    invoice: useAct(
      (id: number) => api.post("/api/public/account/invoice", { secret, body: { id } }),
      opens("/invoice"),
    ),
    proposal: useAct(
      (id: number) => api.post("/api/public/account/proposal", { secret, body: { id } }),
      opens("/proposal"),
    ),
    questions: useAct(
      (id: number) => api.post("/api/public/account/questions", { secret, body: { id } }),
      opens("/questions"),
    ),
    end: useAct((id: number) => api.post("/api/public/account/end-method", { secret, body: { id } })),
    close: useAct(() => api.post("/api/public/account/closing", { secret })),
  };
}

/** Saves the statement of one of the accounts. */
export const saveStatement = (secret: string, { entityId, currency }: Account["accounts"][number]) =>
  fileWithLink(`/api/public/account/statement?entity=${entityId}&currency=${currency}`, secret);
