import dayjs from "dayjs";
import { useSession } from "../../api/session";
import { isoDay } from "../../frame/days";
import { DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { type Outcome, useRecordCall } from "./use-reminding";

export const outcomes: { key: string; outcome: Outcome; words: string }[] = [
  { key: "n", outcome: "unreached", words: "Nobody reached" },
  { key: "p", outcome: "promised", words: "Promised to pay" },
  { key: "l", outcome: "asked", words: "They look after it" },
  { key: "d", outcome: "disputes", words: "Something is wrong" },
];

interface Props {
  client: number;
  contact: string;
  outcome: Outcome;
  onDone: () => void;
}

/** What came of a call: the day is there already, Enter keeps it. */
export function CallForm({ client, contact, outcome, onDone }: Props) {
  const { today } = useSession();
  const call = useRecordCall();
  const soon = isoDay(dayjs(today).add(outcome === "promised" ? 7 : 3, "day"));
  const form = useTyping({ with: contact, day: outcome === "disputes" ? "" : soon, text: "" });
  const { day, text } = form.typed;
  const promised = outcome === "promised";
  const said = outcomes.find((one) => one.outcome === outcome)?.words ?? "";
  return (
    <Form
      inPlace
      label="Call"
      title={said}
      act={call}
      ok="Keep it"
      ready={!promised || day !== ""}
      onOk={() =>
        call.mutate(
          {
            clientId: client,
            outcome,
            with: form.typed.with,
            text,
            ...(day ? { [promised ? "promised" : "again"]: day } : {}),
          },
          { onSuccess: onDone },
        )
      }
      onNo={onDone}
    >
      {outcome !== "disputes" && (
        <DayField of={form} name="day" label={promised ? "They pay on" : "Call again from"} focus />
      )}
      <TextField of={form} name="with" label="Spoken with" />
      <TextField of={form} name="text" label="What was said" rows={2} wide focus={outcome === "disputes"} />
    </Form>
  );
}
