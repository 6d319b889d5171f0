import { Button, Grid } from "antd";
import { clsx } from "clsx";
import dayjs from "dayjs";
import { hoursSaid, hoursText } from "../../api/hours";
import { useSession } from "../../api/session";
import { isoDay, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { fixed, Moneys } from "../../frame/figure";
import { SaidChoice, SaidDate, Sentence } from "../../frame/sentence";
import { Refused } from "../../frame/state";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { DayDesk } from "./day-desk";
import { EntryFolio } from "./entry-folio";
import { Sheet } from "./sheet";
import { TimeViews } from "./time-views";
import { Timers } from "./timers";
import { entriesAt } from "./use-cells";
import { useSheet } from "./use-sheet";
import { type Entry, useChoices, usePhases, useWeek, useWeekAddress, type Week } from "./use-week";
import weekCss from "./week.module.css";
import { WeekActs, WeekState } from "./week-acts";
import type { WorkOf } from "./work-fields";

/** A person's week: typed into a grid, with the entry at hand beside it; on a phone day by day. */
export function TimeDesk() {
  const address = useWeekAddress();
  const { person } = address;
  const session = useSession();
  const week = useWeek(person, address.day);
  const choices = useChoices();
  const sheet = useSheet(week.data, person, address.entry);
  const phases = usePhases(sheet.place?.row);
  const wide = Grid.useBreakpoint().sm ?? true;
  if (week.error) return <p className={clsx("refusal", deskCss.pageRefusal)}>{week.error.message}</p>;
  if (!week.data) return null;
  const mine = person === session.personId;
  const mayAdd = (session.role === "administrator" || mine) && !locked(week.data, session.role);
  // A lead changes what is on engagements that they lead; the rest is refused with a sentence.
  const mayChange = mayAdd || (session.role === "lead" && !mine);
  const go = (change: Record<string, string>) => {
    sheet.goTo(null);
    address.go(change);
  };
  const sentence = <WeekSentence week={week.data} rows={address.rows} people={choices.data?.people ?? []} onGo={go} />;
  const shown = address.rows === "used" ? usedRows(week.data) : week.data;
  const last = lastWork(week.data);
  if (!wide)
    return (
      <DayDesk
        week={shown}
        day={address.day}
        sheet={sheet}
        choices={choices.data}
        last={last}
        readOnly={!mayAdd}
        mine={mine}
        onDay={(day) => go({ week: day })}
      />
    );
  const { cells, place, entry } = sheet;
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title views={<TimeViews />}>
          {week.data.person}, week {week.data.number}
        </Title>
        {sentence}
        <WeekState week={week.data} />
        {mine && <Timers choices={choices.data} last={last} />}
        <Sheet
          week={shown}
          today={session.today}
          readOnly={!mayChange}
          mayAdd={mayAdd}
          cells={cells}
          choices={choices.data}
          place={place}
          onPlace={sheet.goTo}
          onChange={sheet.change}
          onCommit={sheet.commit}
        />
      </div>
      <EntryFolio
        person={week.data.person}
        place={place}
        entries={place ? entriesAt(week.data, place.row, place.day) : []}
        entry={entry}
        edit={place ? cells.get(place) : undefined}
        typed={place ? sheet.typedAt(place) : undefined}
        body={place ? sheet.bodyOf(place, sheet.typedAt(place)) : undefined}
        phases={phases}
        readOnly={!mayChange}
        mayAdd={mayAdd}
        mine={mine}
        onPlace={sheet.goTo}
        onChange={(part) => place && sheet.change(place, part)}
        onCommit={() => place && sheet.commit(place)}
        onCopy={() => place && sheet.copy(place)}
        onRemove={() => entry && sheet.takeAway(entry).catch(() => {})}
        problem={sheet.problem ?? undefined}
      />
      <WeekTally
        week={week.data}
        removed={sheet.removed}
        refused={sheet.refused}
        onBringBack={sheet.bringBack}
        onSave={place && cells.get(place) ? () => sheet.commit(place) : undefined}
      />
    </>
  );
}

/** Whether somebody's own week takes no changes any more: once submitted, only from who approves it. */
const locked = (week: Week, role: string) => week.state !== "open" && role !== "administrator";

/** What was recorded last, with which another timer begins; or the first row that stands ready. */
const lastWork = (week: Week): WorkOf | undefined =>
  week.rows.flatMap((row) => row.cells.flatMap((cell) => cell.entries)).sort((a, b) => b.id - a.id)[0] ?? week.rows[0];

/** The week without the rows of last week that have no time yet. */
const usedRows = (week: Week): Week => ({
  ...week,
  rows: week.rows.filter((row) => row.cells.some((cell) => cell.entries.length > 0)),
});

interface SentenceProps {
  week: Week;
  rows: string;
  people: { id: number; name: string }[];
  onGo: (change: Record<string, string>) => void;
}

function WeekSentence({ week, rows, people, onGo }: SentenceProps) {
  const { today } = useSession();
  const step = (weeks: number) => onGo({ week: isoDay(dayjs(week.monday).add(weeks * 7, "day")) });
  return (
    <Sentence>
      Week of <SaidDate label="Week of" value={week.monday} onChange={(iso) => onGo({ week: iso })} />
      {people.length > 1 && (
        <>
          {" "}
          for{" "}
          <SaidChoice
            label="Person"
            value={week.personId}
            choices={people.map((p) => ({ value: p.id, label: p.name }))}
            onChange={(id) => onGo({ person: String(id) })}
          />
        </>
      )}
      , rows{" "}
      <SaidChoice
        label="Rows"
        value={rows}
        choices={[
          { value: "last", label: "as last week" },
          { value: "used", label: "with time alone" },
        ]}
        onChange={(to) => onGo({ rows: to })}
      />
      <span className={weekCss.weekSteps}>
        <Do onClick={() => step(-1)}>week before</Do>
        <Do onClick={() => step(1)}>week after</Do>
        <Do onClick={() => onGo({ week: today })}>this week</Do>
      </span>
    </Sentence>
  );
}

interface TallyProps {
  week: Week;
  removed: Entry | null;
  refused: Error | null;
  onBringBack: (entry: Entry) => void;
  onSave?: () => void;
}

export function WeekTally({ week, removed, refused, onBringBack, onSave }: TallyProps) {
  const values = useSession().seesValues;
  const notice = removed && (
    <span>
      Removed {hoursSaid(removed.minutes)} of {long(removed.day)}. <Do onClick={() => onBringBack(removed)}>Undo</Do>
      <Refused by={refused} inline />
    </span>
  );
  const actions = (
    <>
      <WeekActs week={week} />
      <Button type="primary" disabled={!onSave} onClick={onSave}>
        Save this entry
      </Button>
    </>
  );
  return (
    <Tally notice={notice} actions={actions}>
      <TallySum figure={hoursSaid(week.minutes)} what={`of ${hoursText(week.capacity)} this week`} />
      <TallySum figure={hoursSaid(week.billable)} what="billable" />
      <TallySum figure={`${fixed(Math.round(week.utilisation / 10_000), 0)} %`} what="of capacity billable" />
      {values && <TallySum figure={<Moneys of={week.values} />} what="value, net" />}
    </Tally>
  );
}
