import type { Schema } from "../../api/client";
import { useAsked } from "../../api/read";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { Fact, Facts } from "../../frame/facts";
import { DayField, RecordField } from "../../frame/form/fields";
import { FieldGroup } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { useOption } from "../../frame/record/use-record";
import setUpCss from "./set-up.module.css";

/** What an hour of somebody on an engagement would cost on a day, and why: the rate that wins and those it beats. */
export function AskRate({ engagement }: { engagement?: { id: number; key: string } }) {
  const { today } = useSession();
  const form = useTyping({ person: "", engagement: engagement?.key ?? "", service: "", phase: "", day: today });
  const asked = form.typed;
  const person = useOption("people", asked.person);
  const chosen = useOption("engagements", asked.engagement);
  const service = useOption("services", asked.service);
  const engagementId = engagement?.id ?? chosen?.id ?? 0;
  const body: Schema["Asked"] = {
    personId: person?.id ?? 0,
    engagementId,
    serviceId: service?.id ?? 0,
    phaseId: Number(asked.phase || 0),
    day: asked.day,
  };
  const ready = body.personId > 0 && engagementId > 0;
  const answer = useAsked("/api/rates/ask", { body }, { when: ready, keeps: true });
  // A phase belongs to its engagement.
  const ofEngagement = {
    ...form,
    set: (change: Partial<typeof asked>) =>
      form.set({ ...change, ...(change.engagement !== undefined && { phase: "" }) }),
  };
  return (
    <section className="ask" aria-label="What would an hour cost">
      <h2>What would an hour cost?</h2>
      <FieldGroup id="ask">
        <RecordField wide of={form} name="person" label="Person" kind="people" />
        {!engagement && <RecordField wide of={ofEngagement} name="engagement" label="Engagement" kind="engagements" />}
        <RecordField wide of={form} name="service" label="Service" kind="services" />
        {engagementId > 0 && (
          <RecordField wide of={form} name="phase" label="Phase or task" kind="phases" within={engagementId} />
        )}
        <DayField of={form} name="day" label="Day" />
      </FieldGroup>
      {!ready && <p className="soft">Choose a person and an engagement.</p>}
      {ready && answer.error && <p className="refusal">{answer.error.message}</p>}
      {ready && answer.data && <Answer price={answer.data} />}
    </section>
  );
}

function Answer({ price }: { price: Schema["HourPrice"] }) {
  const { billed, standard, cost, currency } = price;
  return (
    <div className={setUpCss.asked} data-testid="hour-price">
      <Facts>
        <Fact
          of={
            <>
              {billed.perHour ? "Billed" : "No rate holds"}
              <span className="under">{billed.source || "set one for the firm, the person or the client"}</span>
            </>
          }
        >
          {billed.perHour ? `${currency} ${billed.perHour}` : "–"}
        </Fact>
        {billed.beaten.map((row) => (
          <tr key={row.source} className={setUpCss.beaten}>
            <td>
              beats {row.source}
              <span className="under">since {long(row.from)}</span>
            </td>
            <td className="number">{row.perHour}</td>
          </tr>
        ))}
        <Rate what="Standard, for anybody" answer={standard} />
        {cost.perHour && <Rate what="Costs the firm" answer={cost} />}
      </Facts>
    </div>
  );
}

function Rate({ what, answer }: { what: string; answer: Schema["RateAnswer"] }) {
  return (
    <Fact
      sum
      of={
        <>
          {what}
          <span className="under">{answer.source}</span>
        </>
      }
    >
      {answer.perHour || "–"}
    </Fact>
  );
}
