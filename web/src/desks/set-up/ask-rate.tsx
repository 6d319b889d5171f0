import { Input } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import type { Schema } from "../../api/client";
import { useAsked } from "../../api/read";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import formCss from "../../frame/form/form.module.css";
import { ChooseRecord } from "../../frame/record/choose";
import { useOptions } from "../../frame/record/use-record";
import tableCss from "../../frame/table.module.css";

interface Asked {
  person: string;
  engagement: string;
  service: string;
  phase: string;
  day: string;
}

const iso = /^\d{4}-\d{2}-\d{2}$/;

/** What an hour of somebody on an engagement would cost on a day, and why: the rate that wins and those it beats. */
export function AskRate({ engagement }: { engagement?: { id: number; key: string } }) {
  const { today } = useSession();
  const [asked, setAsked] = useState<Asked>({
    person: "",
    engagement: engagement?.key ?? "",
    service: "",
    phase: "",
    day: today,
  });
  const people = useOptions("people");
  const engagements = useOptions("engagements");
  const services = useOptions("services");
  const idOf = (list: typeof people, key: string) => list.data?.find((o) => o.key === key)?.id ?? 0;
  const body: Schema["Asked"] = {
    personId: idOf(people, asked.person),
    engagementId: engagement?.id ?? idOf(engagements, asked.engagement),
    serviceId: idOf(services, asked.service),
    phaseId: Number(asked.phase || 0),
    day: asked.day,
  };
  const ready = body.personId > 0 && body.engagementId > 0 && iso.test(asked.day);
  const answer = useAsked("/api/rates/ask", { body }, { when: ready, keeps: true });
  const set = (part: Partial<Asked>) => setAsked({ ...asked, ...part });
  return (
    <section className="ask" aria-label="What would an hour cost">
      <h2>What would an hour cost?</h2>
      <div className={formCss.fields}>
        <Choice kind="people" label="Person" value={asked.person} onChoose={(person) => set({ person })} />
        {!engagement && (
          <Choice
            kind="engagements"
            label="Engagement"
            value={asked.engagement}
            onChoose={(key) => set({ engagement: key, phase: "" })}
          />
        )}
        <Choice kind="services" label="Service" value={asked.service} onChoose={(service) => set({ service })} />
        {body.engagementId > 0 && (
          <Choice
            kind="phases"
            of={body.engagementId}
            label="Phase or task"
            value={asked.phase}
            onChoose={(phase) => set({ phase })}
          />
        )}
        <label htmlFor="ask-day">
          Day
          <Input
            id="ask-day"
            variant="underlined"
            value={asked.day}
            onChange={(event) => set({ day: event.target.value })}
          />
        </label>
      </div>
      {!ready && <p className="soft">Choose a person and an engagement, and a day like 2026-11-30.</p>}
      {ready && answer.error && <p className="refusal">{answer.error.message}</p>}
      {ready && answer.data && <Answer price={answer.data} />}
    </section>
  );
}

function Choice(props: { kind: string; of?: number; label: string; value: string; onChoose: (key: string) => void }) {
  const id = `ask-${props.kind}`;
  return (
    <label htmlFor={id} className={formCss.wide}>
      {props.label}
      <ChooseRecord {...props} id={id} underlined />
    </label>
  );
}

function Answer({ price }: { price: Schema["HourPrice"] }) {
  const { billed, standard, cost, currency } = price;
  return (
    <table className={clsx(tableCss.plain, formCss.asked)} data-testid="hour-price">
      <tbody>
        <tr>
          <th scope="row">
            {billed.perHour ? "Billed" : "No rate holds"}
            <span className="under">{billed.source || "set one for the firm, the person or the client"}</span>
          </th>
          <td className="number">{billed.perHour && `${currency} ${billed.perHour}`}</td>
        </tr>
        {billed.beaten.map((row) => (
          <tr key={row.source} className={formCss.beaten}>
            <td>
              beats {row.source}
              <span className="under">since {long(row.from)}</span>
            </td>
            <td className="number">{row.perHour}</td>
          </tr>
        ))}
        <Line what="Standard, for anybody" answer={standard} />
        {cost.perHour && <Line what="Costs the firm" answer={cost} />}
      </tbody>
    </table>
  );
}

function Line({ what, answer }: { what: string; answer: Schema["RateAnswer"] }) {
  return (
    <tr className={tableCss.sumRow}>
      <th scope="row">
        {what}
        <span className="under">{answer.source}</span>
      </th>
      <td className="number">{answer.perHour || "–"}</td>
    </tr>
  );
}
