import { Calendar } from "antd";
import dayjs from "dayjs";
import { isoDay } from "../days";
import dayInputCss from "./day-input.module.css";

/** A month to choose a day of. */
export default function DayCalendar({ value, onChange }: { value: string; onChange: (iso: string) => void }) {
  return (
    <div className={dayInputCss.month}>
      <Calendar
        fullscreen={false}
        defaultValue={value ? dayjs(value) : undefined}
        onSelect={(day, { source }) => source === "date" && onChange(isoDay(day))}
      />
    </div>
  );
}
