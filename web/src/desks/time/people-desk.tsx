import { Button } from "antd";
import { clsx } from "clsx";
import dayjs from "dayjs";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { hoursSaid } from "../../api/hours";
import { useSession } from "../../api/session";
import { isoDay } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { hours } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { Acts } from "../../frame/history";
import { text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { SaidDate, Sentence } from "../../frame/sentence";
import { Failed, Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import recordingCss from "./recording.module.css";
import { TimeViews } from "./time-views";
import { useWeekActs, useWeekHistory, useWeeks } from "./use-week-acts";
import weekCss from "./week.module.css";
import { sheetWords } from "./week-acts";

type PersonWeek = Schema["PersonWeek"];

/** The weeks of everybody: whose time is missing, who has submitted, what waits for approval. */
export function PeopleDesk() {
  const { today } = useSession();
  const [search, setSearch] = useSearchParams();
  const day = search.get("week") ?? today;
  const weeks = useWeeks(day);
  const navigate = useNavigate();
  const people = weeks.data?.people ?? [];
  const openWeek = (p: PersonWeek) => navigate(`/time?person=${p.personId}&week=${weeks.data?.monday}`);
  const list = useList({
    name: "weeks",
    rows: people,
    columns: columns(weeks.data, today),
    id: (p) => p.personId,
    text: (p) => `${p.person} ${p.initials} ${stateOf(p)}`,
  });
  if (weeks.error) return <Failed of={weeks.error} again={weeks.refetch} />;
  if (!weeks.data) return null;
  const go = (iso: string) => setSearch({ week: iso });
  const step = (n: number) => go(isoDay(dayjs(weeks.data?.monday).add(n * 7, "day")));
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<TimeViews />}>Everybody’s weeks, week {weeks.data.number}</Title>
        <Sentence>
          Week of <SaidDate label="Week of" value={weeks.data.monday} onChange={go} />
          <span className={weekCss.weekSteps}>
            <Do onClick={() => step(-1)}>week before</Do>
            <Do onClick={() => step(1)}>week after</Do>
            <Do onClick={() => go(today)}>this week</Do>
          </span>
        </Sentence>
        {weeks.data.waiting.length > 0 && (
          <p className="soft">
            Waiting for approval:
            {weeks.data.waiting.map((week) => (
              <button
                type="button"
                key={week.monday}
                className={clsx("link", recordingCss.waiting)}
                onClick={() => go(week.monday)}
              >
                week {week.number}, {week.entries} entries
              </button>
            ))}
          </p>
        )}
        <List
          main
          className="people-weeks"
          label="Weeks"
          list={list}
          read={weeks}
          onOpen={openWeek}
          empty={<p>Nobody whose time you see has worked in this week.</p>}
        />
      </div>
      <PersonFolio week={list.row} monday={weeks.data.monday} />
      <Tally of={weeks}>
        <TallySum figure={hoursSaid(people.reduce((sum, p) => sum + p.minutes, 0))} what="worked" />
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

const stateOf = (p: PersonWeek) => (p.sentBack && p.state === "open" ? "sent back" : sheetWords[p.state]);

const minutes = (
  name: string,
  of: (p: PersonWeek) => number,
  more: Partial<Column<PersonWeek>> = {},
): Column<PersonWeek> => ({
  name,
  number: true,
  cell: (p) => hours(of(p), ""),
  by: of,
  sum: (rows) => hours(rows.reduce((all, p) => all + of(p), 0)),
  ...more,
});

/** A column for each day of the week, and what all of it comes to. */
const columns = (weeks: Schema["Sheets"] | undefined, today: string): Column<PersonWeek>[] => [
  text("Person", (p) => p.person, {
    names: "strong",
    cell: (p) => (
      <>
        <Link to={`/time?person=${p.personId}&week=${weeks?.monday}`} className="quiet">
          {p.person}
        </Link>
        {p.partial && <span className="soft"> · your engagements</span>}
      </>
    ),
  }),
  ...(weeks?.days ?? []).map((day, at) =>
    minutes(dayjs(day).format("dddd"), (p) => p.days[at] ?? 0, {
      head: <span className={day === today ? "today" : undefined}>{dayjs(day).format("ddd D")}</span>,
    }),
  ),
  minutes("Total", (p) => p.minutes),
  minutes("Of", (p) => (p.partial ? 0 : p.capacity), { tone: () => "soft" }),
  minutes("Missing", (p) => p.missing, { tone: () => "lost" }),
  text("Week", stateOf, {
    cell: (p) => (
      <>
        {stateOf(p)}
        {p.toApprove > 0 && <span className="soft">, {p.toApprove} to approve</span>}
      </>
    ),
  }),
];

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
      <p className={deskCss.folioOver}>{week.person}</p>
      <h2>{hoursSaid(week.minutes)} in the week</h2>
      {week.missing > 0 && (
        <p className={deskCss.findingBox}>
          <b>{hoursSaid(week.missing)} are missing</b> on the days gone by. Remind {week.person.split(" ")[0]}, or
          record it.
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
    <div className={recordingCss.folioActs}>
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
      <Refused by={acts.problem} />
    </div>
  );
}

function WeekHistory({ id, monday }: { id: number; monday: string }) {
  const history = useWeekHistory(id, monday);
  return <Acts of={history.data ?? []} />;
}
