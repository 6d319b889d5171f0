import { Button, Input } from "antd";
import { clsx } from "clsx";
import { type FormEvent, useState } from "react";
import { Refused } from "../frame/state";
import { Title } from "../frame/title";
import clientCss from "./client.module.css";
import { useAnswerQuestions, useQuestions, useSecret } from "./use-link";

/** A questionnaire for the client. What was sent is never shown again: the link writes and does not read. */
export function QuestionsPage() {
  const secret = useSecret();
  const page = useQuestions(secret);
  const answer = useAnswerQuestions(secret);
  const [answers, setAnswers] = useState<Record<number, string>>({});
  if (page.error)
    return (
      <main className={clientCss.clientPage}>
        <Title of="a link">This page can't be shown</Title>
        <p className="refusal">{page.error.message}</p>
      </main>
    );
  if (!page.data) return null;
  const p = page.data;
  const send = (event: FormEvent) => {
    event.preventDefault();
    answer.mutate(p.questions.map((_, at) => (answers[at] ?? "").trim()));
  };
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
        <form className={clientCss.clientForm} onSubmit={send}>
          <p className={clientCss.offerText}>{p.opening}</p>
          {p.questions.map((question, at) => (
            <label key={question}>
              {question}
              <Input.TextArea
                autoSize={{ minRows: 1 }}
                value={answers[at] ?? ""}
                onChange={(event) => setAnswers({ ...answers, [at]: event.target.value })}
              />
            </label>
          ))}
          <Refused by={answer.error} />
          <Button type="primary" size="large" htmlType="submit" loading={answer.isPending}>
            Send the answers
          </Button>
        </form>
      )}
    </main>
  );
}
