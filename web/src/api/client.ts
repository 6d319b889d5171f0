import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schema = components["schemas"];
export type Amount = Schema["Amount"];
export type Step = Schema["Step"];

export const api = createClient<paths>({ baseUrl: "/" });

/** A refusal by the server: a sentence for the person, and the field it belongs to. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    sentence: string,
    readonly field?: string,
  ) {
    super(sentence);
  }
}

type Answer<T> = { data?: T; error?: Schema["ErrorModel"]; response: Response };

/** The data of an answer, or its problem thrown. */
export async function of<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch {
    throw new Problem(0, "Dorvet does not answer. What you typed is kept: try again in a moment.");
  }
  if (answer.error || answer.data === undefined) {
    const first = answer.error?.errors?.[0];
    throw new Problem(
      answer.response.status,
      answer.error?.detail ?? "Something went wrong. Try again.",
      first?.location?.replace(/^body\./, ""),
    );
  }
  return answer.data;
}

/** The header of an idempotency key: see ActKeys. */
export const keyHeader = (key: string) => ({ "Idempotency-Key": key });
