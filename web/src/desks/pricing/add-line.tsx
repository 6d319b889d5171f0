import { type RefObject, useId, useLayoutEffect, useRef, useState } from "react";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useOptions } from "../../frame/record/use-record";
import tiersCss from "./tiers.module.css";
import type { Proposal, Typed, TypedLine } from "./use-proposal";

interface Props {
  proposal: Proposal;
  tiers: number;
  count: number;
  table: RefObject<HTMLTableElement | null>;
  commit: (change: (now: Typed) => Typed) => void;
}

/** The last row of the grid: a service of the catalogue, a bundle of them, or one's own words. */
export function AddLine({ proposal, tiers, count, table, commit }: Props) {
  const services = useOptions("services");
  const bundles = useOptions("bundles");
  const list = useId();
  const [text, setText] = useState("");
  const wanted = useRef(-1);
  // Once the new row is there, one goes on in it.
  useLayoutEffect(() => {
    if (wanted.current < 0 || count <= wanted.current) return;
    const row = table.current?.querySelector(`tr[data-line="${wanted.current}"]`);
    wanted.current = -1;
    row?.querySelector<HTMLInputElement>(`.${tiersCss.serviceWhen} input`)?.focus();
  }, [count, table]);
  const lineOf = (serviceId: number) =>
    api.get("/api/proposals/{id}/line", {
      path: { id: proposal.id },
      query: { service: serviceId },
    });
  const adding = useAct(
    async (typed: string): Promise<TypedLine[]> => {
      const bundle = bundles.data?.find((b) => b.title.toLowerCase() === typed.toLowerCase());
      if (bundle) {
        const sheet = await api.get("/api/records/{kind}/{id}", { path: { kind: "bundles", id: bundle.id } });
        const codes = sheet.values.find((value) => value.name === "services")?.value.split("\n") ?? [];
        const ids = codes.flatMap((code) => services.data?.find((s) => s.key === code)?.id ?? []);
        return Promise.all(ids.map(lineOf));
      }
      const service = services.data?.find((s) => [s.title, s.key].some((n) => n.toLowerCase() === typed.toLowerCase()));
      const line = await lineOf(service?.id ?? 0);
      return [service ? line : { ...line, description: typed }];
    },
    {
      done: (lines, typed) => {
        const cells = Array.from({ length: tiers }, () => "");
        commit((now) => ({
          ...now,
          lines: [
            ...now.lines,
            ...lines.map((line) => ({
              ...line,
              description: line.description || typed,
              cells: line.price ? cells.map(() => "x") : cells,
            })),
          ],
        }));
        setText("");
        wanted.current = count;
      },
    },
  );
  return (
    <tr className={tiersCss.addLine}>
      <th scope="row" className={tiersCss.service} colSpan={2 + tiers}>
        <input
          aria-label="Add a service"
          // biome-ignore lint/a11y/noAutofocus: an empty grid begins here
          autoFocus={count === 0}
          placeholder="Add a service…"
          list={list}
          autoComplete="off"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && text.trim() && !adding.isPending) {
              adding.mutate(text.trim());
              event.preventDefault();
              event.stopPropagation();
            }
          }}
        />
        <datalist id={list}>
          {[...(bundles.data ?? []), ...(services.data ?? [])].map((option) => (
            <option key={`${option.key}-${option.id}`} value={option.title} />
          ))}
        </datalist>
        {adding.error && <span className={tiersCss.fieldFault}>{adding.error.message}</span>}
      </th>
    </tr>
  );
}
