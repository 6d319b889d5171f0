import { clsx } from "clsx";
import { TextField } from "../frame/form/fields";
import { Form } from "../frame/form/form";
import { useTyping } from "../frame/form/use-typing";
import { Title } from "../frame/title";
import clientCss from "./client.module.css";
import { useAnswerQuestions, useQuestions, useSecret } from "./use-link";

/** A questionnaire for the client. What was sent is never shown again: the link writes and does not read. */
export function QuestionsPage() {
  const secret = useSecret();
  const page = useQuestions(secret);
  const answer = useAnswerQuestions(secret);
  const form = useTyping<Record<string, string>>({});
  if (page.error)
    return (
      <main className={clientCss.clientPage}>
        <Title of="a link">This page can't be shown</Title>
        <p className="refusal">{page.error.message}</p>
      </main>
    );
  if (!page.data) return null;
  const p = page.data;
  return (
    <main className={clientCss.clientPage}>
      <header>
        <b>{p.firm}</b>
        <span className="soft">Questions for {p.for}</span>
      </header>
      <Title of={p.firm}>{p.name}</Title>
      {p.answered ? (
        <p className={clsx(clientCss.clientNotice, clientCss.settled)}>
          Thank you: your answers have arrived. You can close this page.
        </p>
      ) : (
        <Form
          size="large"
          className={clientCss.clientForm}
          label="Your answers"
          act={answer}
          ok="Send the answers"
          onOk={() => answer.mutate(p.questions.map((_, at) => (form.typed[at] ?? "").trim()))}
        >
          <p className={clientCss.offerText}>{p.opening}</p>
          {p.questions.map((question, at) => (
            <TextField key={question} of={form} name={String(at)} label={question} rows={1} />
          ))}
        </Form>
      )}
    </main>
  );
}
