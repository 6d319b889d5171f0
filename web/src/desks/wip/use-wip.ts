import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useAsked, useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { useAddress } from "../../frame/address";
import { lastMonthEnd } from "../../frame/days";

export type ClientWork = Schema["ClientWork"];
export type EngagementWork = Schema["EngagementWork"];
export type Entry = Schema["UnbilledEntry"];
export type Decision = Schema["Decision"];
export type Selection = Schema["Selection"];

/** What of an engagement can be left: its time, its expenses, its charges. */
export const parts = ["time", "expenses", "charges"] as const;
export type Part = (typeof parts)[number];

const numbersIn = (search: URLSearchParams, name: string) =>
  new Set((search.get(name) ?? "").split(",").filter(Boolean).map(Number));

/**
 * The filters and the selection, which live in the address. Changes start from the address itself, not from what was
 * last drawn: a second click may come before the first is drawn.
 */
export function useWipAddress() {
  const { today, role } = useSession();
  const { search, change } = useAddress();
  const number = (name: string) => Number(search.get(name) ?? 0);
  const text = (name: string) => search.get(name) ?? "";
  const flip = (name: string, ids: number[]) => {
    const there = numbersIn(new URLSearchParams(window.location.search), name);
    const all = ids.every((id) => there.has(id));
    for (const id of ids) all ? there.delete(id) : there.add(id);
    change({ [name]: [...there].sort((a, b) => a - b).join(",") });
  };
  const run = useRead(
    "/api/runs/{id}",
    { path: { id: number("run") } },
    { when: number("run") > 0 && role !== "lead" },
  );
  const left = {
    time: numbersIn(search, "no_time"),
    expenses: numbersIn(search, "no_expenses"),
    charges: numbersIn(search, "no_charges"),
  };
  return {
    from: text("from"),
    upTo: search.get("upTo") ?? lastMonthEnd(today),
    dated: search.get("dated") ?? today,
    chargesUpTo: text("chargesUpTo"),
    name: text("name"),
    terms: text("terms"),
    text: text("text"),
    lead: number("lead"),
    client: number("client"),
    arrangement: text("arrangement"),
    cycle: text("cycle"),
    group: text("group"),
    run: number("run"),
    /** The engagements of the run to which something is added. */
    members: new Set(run.data?.members.map((member) => member.engagementId)),
    atLeast: search.get("atLeast") ?? "0.00",
    order: text("order"),
    open: number("open"),
    picked: numbersIn(search, "pick"),
    apart: numbersIn(search, "apart"),
    together: numbersIn(search, "together"),
    left,
    change,
    /** Selects engagements, or leaves them. */
    choose: (ids: number[], on: boolean) => {
      const there = numbersIn(new URLSearchParams(window.location.search), "pick");
      for (const id of ids) on ? there.add(id) : there.delete(id);
      change({ pick: [...there].sort((a, b) => a - b).join(",") });
    },
    /** Leaves a part of an engagement, or takes it again. */
    leave: (id: number, part: Part) => flip(`no_${part}`, [id]),
    /** Puts engagements on invoices of their own, or on one, against what their client has. */
    mix: (combined: boolean, ids: number[]) => flip(combined ? "apart" : "together", ids),
  };
}

export type WipAddress = ReturnType<typeof useWipAddress>;

/** What drafts are to be made of. */
export function selectionOf(address: WipAddress, engagementIds: number[]): Selection {
  const chosen = (ids: Set<number>) => engagementIds.filter((id) => ids.has(id));
  return {
    runId: address.run || undefined,
    name: address.name,
    from: address.from || undefined,
    upTo: address.upTo,
    chargesUpTo: address.chargesUpTo || undefined,
    dated: address.dated,
    terms: address.terms,
    text: address.text,
    engagementIds,
    leave: engagementIds
      .filter((id) => parts.some((part) => address.left[part].has(id)))
      .map((engagementId) => ({
        engagementId,
        time: address.left.time.has(engagementId),
        expenses: address.left.expenses.has(engagementId),
        charges: address.left.charges.has(engagementId),
      })),
    apart: chosen(address.apart),
    together: chosen(address.together),
  };
}

type WipOrder = "" | "value" | "oldest" | "last_billed" | "budget";

type Asked = Pick<
  WipAddress,
  "from" | "upTo" | "chargesUpTo" | "lead" | "client" | "arrangement" | "cycle" | "group" | "atLeast" | "order"
>;

export const useUnbilled = ({
  from,
  upTo,
  chargesUpTo,
  lead,
  client,
  arrangement,
  cycle,
  group,
  atLeast,
  order,
}: Asked) => {
  const query = { from, upTo, chargesUpTo, lead, client, arrangement, cycle, group, atLeast, order: order as WipOrder };
  return useRead("/api/wip", { query }, { keeps: true });
};

/** The days of the work that is looked at. */
export const daysOf = ({ upTo, from, chargesUpTo }: Pick<WipAddress, "upTo" | "from" | "chargesUpTo">) => ({
  upTo,
  from: from || undefined,
  chargesUpTo: chargesUpTo || undefined,
});

export const useEntries = (id: number, days: ReturnType<typeof daysOf>) =>
  useRead("/api/wip/engagements/{id}", { path: { id }, query: days });

export const useBoard = () => useRead("/api/wip/board");

export const useTally = (selection: Selection) => useAsked("/api/wip/tally", { body: selection }, { keeps: true });

/** Making drafts, and taking that back as long as they are as they were made. */
export function useMakeDrafts() {
  const make = useAct((body: Selection) => api.post("/api/drafts", { body }), {
    undo: async (made) => {
      const path = { id: made[0]?.runId ?? 0 };
      const run = await api.get("/api/runs/{id}", { path });
      await api.delete("/api/runs/{id}", { path, query: { version: run.version } });
    },
  });
  return make;
}

/** Decisions on unbilled work, and taking them back. */
export function useDecisions() {
  const decide = useAct((body: Schema["OnWork"]) => api.post("/api/wip/decisions", { body }));
  const undo = useAct((act: number) => api.post("/api/wip/decisions/{act}/undo", { path: { act } }));
  return { decide, undo };
}

export { arrangementWords } from "../clients/use-clients";
