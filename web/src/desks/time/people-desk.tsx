import { Button } from "antd";
import dayjs from "dayjs";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { isoDay } from "../../frame/days";
import { hours } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { Acts } from "../../frame/history";
import { useListKeys } from "../../frame/keys";
import { SaidDate, Sentence } from "../../frame/sentence";
import { Tally, TallySum } from "../../frame/tally";
import { TimeViews } from "./time-views";
import { useWeekActs, useWeekHistory, useWeeks } from "./use-week-acts";
import { sheetWords } from "./week-acts";

type PersonWeek = Schema["PersonWeek"];

/** The weeks of everybody: whose time is missing, who has submitted, what waits for approval. */
export function PeopleDesk() {
  const { today } = useSession();
  const [search, setSearch] = useSearchParams();
  const day = search.get("week") ?? today;
  const weeks = useWeeks(day);
  const [current, setCurrent] = useState(0);
  const navigate = useNavigate();
  const people = weeks.data?.people ?? [];
  const openWeek = (p: PersonWeek) => navigate(`/time?person=${p.personId}&week=${weeks.data?.monday}`);
  const keys = useListKeys(people, current, setCurrent, {
    Enter: openWeek,
    "/": () => document.querySelector<HTMLElement>("[data-sentence] input")?.focus(),
  });
  if (weeks.error) return <p className="refusal page-refusal">{weeks.error.message}</p>;
  if (!weeks.data) return null;
  const go = (iso: string) => setSearch({ week: iso });
  const step = (n: number) => go(isoDay(dayjs(weeks.data?.monday).add(n * 7, "day")));
  const chosen = people[current];
  return (
    <>
      <div className="desk-main">
        <div className="title-line">
          <h1>Everybody’s weeks, week {weeks.data.number}</h1>
          <TimeViews />
        </div>
        <Sentence>
          Week of <SaidDate label="Week of" value={weeks.data.monday} onChange={go} />
          <span className="week-steps">
            <button type="button" className="link" onClick={() => step(-1)}>
              week before
            </button>
            <button type="button" className="link" onClick={() => step(1)}>
              week after
            </button>
            <button type="button" className="link" onClick={() => go(today)}>
              this week
            </button>
          </span>
        </Sentence>
        {weeks.data.waiting.length > 0 && (
          <p className="soft">
            Waiting for approval:
            {weeks.data.waiting.map((week) => (
              <button type="button" key={week.monday} className="link waiting" onClick={() => go(week.monday)}>
                week {week.number}, {week.entries} entries
              </button>
            ))}
          </p>
        )}
        <section className="sheet" aria-label="Weeks" {...keys}>
          <table className="grid people-weeks">
            <thead>
              <tr>
                <th scope="col">Person</th>
                {weeks.data.days.map((d) => (
                  <th scope="col" key={d} className={d === today ? "number today" : "number"}>
                    {dayjs(d).format("ddd D")}
                  </th>
                ))}
                <th scope="col" className="number">
                  Total
                </th>
                <th scope="col" className="number">
                  Of
                </th>
                <th scope="col" className="number">
                  Missing
                </th>
                <th scope="col">Week</th>
              </tr>
            </thead>
            <tbody>
              {people.map((p, index) => (
                <tr
                  key={p.personId}
                  data-row={index}
                  className={index === current ? "current" : ""}
                  onClick={() => setCurrent(index)}
                >
                  <th scope="row">
                    <Link to={`/time?person=${p.personId}&week=${weeks.data.monday}`} className="quiet">
                      {p.person}
                    </Link>
                    {p.partial && <span className="soft"> · your engagements</span>}
                  </th>
                  {p.days.map((minutes, at) => (
                    <td key={weeks.data.days[at]} className="number">
                      {hours(minutes, "")}
                    </td>
                  ))}
                  <td className="number">{hours(p.minutes)}</td>
                  <td className="number soft">{p.partial ? "" : hours(p.capacity)}</td>
                  <td className="number lost">{hours(p.missing, "")}</td>
                  <td>
                    {p.sentBack && p.state === "open" ? "sent back" : sheetWords[p.state]}
                    {p.toApprove > 0 && <span className="soft">, {p.toApprove} to approve</span>}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      </div>
      <PersonFolio week={chosen} monday={weeks.data.monday} />
      <Tally>
        <TallySum figure={`${hours(people.reduce((sum, p) => sum + p.minutes, 0))} h`} what="worked" />
        <TallySum
          figure={weeks.data.missing}
          what={weeks.data.missing === 1 ? "person with time missing" : "people with time missing"}
          lost={weeks.data.missing > 0}
        />
        <TallySum figure={people.filter((p) => p.state === "submitted").length} what="submitted" />
        <TallySum figure={people.filter((p) => p.state === "approved").length} what="approved" />
      </Tally>
    </>
  );
}

function PersonFolio({ week, monday }: { week?: PersonWeek; monday: string }) {
  if (!week)
    return (
      <Folio label="Week">
        <h2>Nobody here</h2>
        <p className="soft">Nobody whose time you see has worked in this week.</p>
      </Folio>
    );
  return (
    <Folio label="Week">
      <p className="folio-over">{week.person}</p>
      <h2>{hours(week.minutes, "0.0")} h in the week</h2>
      {week.missing > 0 && (
        <p className="finding-box">
          <b>{hours(week.missing)} h are missing</b> on the days gone by. Remind {week.person.split(" ")[0]}, or record
          it.
        </p>
      )}
      {week.sentBack && <p className="soft">Sent back: {week.sentBack}</p>}
      <PersonActs key={week.personId} week={week} monday={monday} />
      <WeekHistory id={week.personId} monday={monday} />
    </Folio>
  );
}

function PersonActs({ week, monday }: { week: PersonWeek; monday: string }) {
  const { role } = useSession();
  const acts = useWeekActs(week.personId, monday);
  const leads = role === "administrator" || role === "lead";
  return (
    <div className="folio-acts">
      <Link to={`/time?person=${week.personId}&week=${monday}`}>Open the week</Link>
      {leads && week.state === "submitted" && week.toApprove > 0 && (
        <Button type="primary" size="small" onClick={() => acts.approve.mutate()}>
          Approve {week.partial ? `${week.toApprove} entries` : "the week"}
        </Button>
      )}
      {leads && week.missing > 0 && (
        <Button size="small" disabled={acts.remind.isSuccess} onClick={() => acts.remind.mutate()}>
          {acts.remind.isSuccess ? "Reminded" : "Remind of missing time"}
        </Button>
      )}
      {acts.problem && <p className="refusal">{acts.problem.message}</p>}
    </div>
  );
}

function WeekHistory({ id, monday }: { id: number; monday: string }) {
  const history = useWeekHistory(id, monday);
  return <Acts of={history.data ?? []} />;
}
