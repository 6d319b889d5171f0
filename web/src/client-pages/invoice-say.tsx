import { DayField, TextField } from "../frame/form/fields";
import { Form } from "../frame/form/form";
import { useTyping } from "../frame/form/use-typing";
import clientCss from "./client.module.css";
import type { Page } from "./invoice";
import type { Words } from "./invoice-words";
import { useSay } from "./use-invoice";

/** What the client is about to say: of a line, or of all of it (-1). */
export interface Saying {
  kind: "question" | "dispute" | "promise";
  section: number;
  line: number;
}

interface Props {
  saying: Saying;
  page: Page;
  words: Words;
  secret: string;
  onDone: () => void;
  onNo: () => void;
}

/** A question, a dispute with its reason, or the day on which it will be paid. */
export function SayForm({ saying, page, words, secret, onDone, onNo }: Props) {
  const say = useSay(secret);
  const form = useTyping({ text: "", day: "" });
  const line = page.printed.sections[saying.section]?.lines[saying.line];
  const title = { question: words.ask, dispute: line ? words.dispute_line : words.dispute, promise: words.promise };
  const { text, day } = form.typed;
  return (
    <Form
      size="large"
      className={clientCss.clientForm}
      label={title[saying.kind]}
      title={title[saying.kind]}
      act={say}
      ok={words.send}
      no={words.back}
      onNo={onNo}
      onOk={() => say.mutate({ ...saying, text, ...(day && { day }) }, { onSuccess: onDone })}
    >
      {line && <p>“{line.text}”</p>}
      {saying.kind === "promise" ? (
        <DayField of={form} name="day" label={words.your_day} />
      ) : (
        <TextField
          of={form}
          name="text"
          label={saying.kind === "question" ? words.your_question : words.your_reason}
          rows={3}
          focus
        />
      )}
    </Form>
  );
}
