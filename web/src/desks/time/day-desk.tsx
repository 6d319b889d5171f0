import dayjs from "dayjs";
import type { Schema } from "../../api/client";
import { hoursSaid } from "../../api/hours";
import { isoDay } from "../../frame/days";
import { Do } from "../../frame/do";
import { hours } from "../../frame/figure";
import { Title } from "../../frame/title";
import { AddRow } from "./add-row";
import { EntryFolio } from "./entry-folio";
import phoneCss from "./phone.module.css";
import recordingCss from "./recording.module.css";
import { TimeViews } from "./time-views";
import { Timers } from "./timers";
import { entriesAt, type Place, type RowHead, rowKey, rowsOf } from "./use-cells";
import type { useSheet } from "./use-sheet";
import { usePhases, type Week } from "./use-week";
import { WeekActs, WeekState } from "./week-acts";
import { billedWord } from "./words";
import type { WorkOf } from "./work-fields";

interface Props {
  week: Week;
  day: string;
  sheet: ReturnType<typeof useSheet>;
  choices?: Schema["Choices"];
  last?: WorkOf;
  readOnly: boolean;
  mine: boolean;
  onDay: (day: string) => void;
}

/** A day at a time, for a phone: its entries, the rows on which time is often recorded, and the timers. */
export function DayDesk({ week, day, sheet, choices, last, readOnly, mine, onDay }: Props) {
  const { place, cells } = sheet;
  const phases = usePhases(place?.row);
  const rows = rowsOf(week, cells.extra);
  if (place)
    return (
      <div className={phoneCss.phoneEntry}>
        <Do onClick={() => sheet.goTo(null)}>Back to the day</Do>
        <EntryFolio
          person={week.person}
          place={place}
          entries={entriesAt(week, place.row, place.day)}
          entry={sheet.entry}
          edit={cells.get(place)}
          typed={sheet.typedAt(place)}
          body={sheet.bodyOf(place, sheet.typedAt(place))}
          phases={phases}
          readOnly={readOnly}
          mayAdd={!readOnly}
          mine={mine}
          onPlace={sheet.goTo}
          onChange={(part) => sheet.change(place, part)}
          onCommit={() => sheet.commit(place)}
          onCopy={() => sheet.copy(place)}
          onRemove={() =>
            sheet.entry &&
            sheet.takeAway(sheet.entry).then(
              () => sheet.goTo(null),
              () => {},
            )
          }
          problem={sheet.problem ?? undefined}
        />
        {!readOnly && (
          <button
            type="button"
            className={phoneCss.phoneSave}
            onClick={async () => {
              if (await sheet.commit(place)) sheet.goTo(null);
            }}
          >
            Save
          </button>
        )}
      </div>
    );
  return (
    <div className={phoneCss.phoneDay}>
      <TimeViews />
      <DayChoice week={week} day={day} onDay={onDay} />
      <WeekState week={week} />
      {mine && <Timers choices={choices} last={last} />}
      <ul>
        {rows.map((row) => (
          <PhoneRow key={rowKey(row)} week={week} row={row} day={day} readOnly={readOnly} onOpen={sheet.goTo} />
        ))}
      </ul>
      {!readOnly && (
        <AddRow
          choices={choices}
          onAdd={(row) => {
            cells.addRow(row);
            sheet.goTo({ row: rowKey(row), day, entryId: 0 });
          }}
        />
      )}
      <p className={recordingCss.acts}>
        <WeekActs week={week} />
      </p>
    </div>
  );
}

function DayChoice({ week, day, onDay }: Pick<Props, "week" | "day" | "onDay">) {
  const step = (days: number) => onDay(isoDay(dayjs(day).add(days, "day")));
  return (
    <>
      <div className={phoneCss.phoneHead}>
        <Do aria-label="Day before" onClick={() => step(-1)}>
          ‹
        </Do>
        <Title>{dayjs(day).format("dddd D MMMM")}</Title>
        <Do aria-label="Day after" onClick={() => step(1)}>
          ›
        </Do>
      </div>
      <nav className={phoneCss.phoneDays} aria-label="Days of the week">
        {week.days.map((head) => (
          <button
            type="button"
            key={head.day}
            aria-current={head.day === day ? "date" : undefined}
            onClick={() => onDay(head.day)}
          >
            {dayjs(head.day).format("dd")}
            <span>{hours(head.minutes)}</span>
          </button>
        ))}
      </nav>
    </>
  );
}

interface RowProps {
  week: Week;
  row: RowHead;
  day: string;
  readOnly: boolean;
  onOpen: (place: Place) => void;
}

function PhoneRow({ week, row, day, readOnly, onOpen }: RowProps) {
  const entries = entriesAt(week, rowKey(row), day);
  const place = { row: rowKey(row), day };
  return (
    <li>
      <span>
        <b>{row.engagement}</b>
        <span className="under">
          {row.client} · {row.service} · {billedWord(row)}
        </span>
      </span>
      <span className={phoneCss.phoneEntries}>
        {entries.map((e) => (
          <button
            key={e.id}
            type="button"
            className={recordingCss.chip}
            onClick={() => onOpen({ ...place, entryId: e.id })}
          >
            {hoursSaid(e.minutes)}
          </button>
        ))}
        {!readOnly && (
          <button
            type="button"
            className={recordingCss.chip}
            aria-label={`Add time on ${row.engagement}, ${row.service}`}
            onClick={() => onOpen({ ...place, entryId: 0 })}
          >
            +
          </button>
        )}
      </span>
    </li>
  );
}
