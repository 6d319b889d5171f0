import { Calendar } from "antd";
import dayjs from "dayjs";
import { isoDay } from "../days";

/** A month to choose a day of. */
export default function DayCalendar({ value, onChange }: { value: string; onChange: (iso: string) => void }) {
  return (
    <div className="day-month">
      <Calendar
        fullscreen={false}
        defaultValue={value ? dayjs(value) : undefined}
        onSelect={(day, { source }) => source === "date" && onChange(isoDay(day))}
      />
    </div>
  );
}
