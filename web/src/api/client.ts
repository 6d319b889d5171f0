import createClient from "openapi-fetch";
import { proof } from "./proof";
import type { components, paths } from "./schema";
import { tries } from "./tries";

export type Schema = components["schemas"];
export type Amount = Schema["Amount"];
export type Step = Schema["Step"];

/** What a call is given but for the key of its try, which every act gets by itself. */
type Keyless<O> = O extends { parameters: { header: infer H } }
  ? Omit<O, "parameters"> & {
      parameters: Omit<O["parameters"], "header"> &
        ("Link-Secret" extends keyof H ? { header: Omit<H, "Idempotency-Key"> } : { header?: never });
    }
  : O;
type Calls = { [P in keyof paths]: { [M in keyof paths[P]]: Keyless<paths[P][M]> } };

export const api = createClient<Calls>({ baseUrl: "/", fetch: (request) => send(request) });

/** Sends a request; where the server wants the password once more, it is asked for, and the request is made again. */
export async function send(request: Request): Promise<Response> {
  if (request.method === "GET") return fetch(request);
  const again = request.clone();
  const answer = await sendOnce(request);
  return answer.status === 428 && (await proof.ask()) ? sendOnce(again) : answer;
}

/** Sends an act under the key of its try. */
async function sendOnce(request: Request): Promise<Response> {
  const body = await request.clone().arrayBuffer();
  const said = `${request.method} ${request.url} ${await digest(body)}`;
  const headers = new Headers(request.headers);
  headers.set("Idempotency-Key", tries.keyOf(said));
  const answer = await fetch(new Request(request, { headers }));
  tries.answered(said, answer.status);
  return answer;
}

/** Tells bodies apart; a page that is not served safely has no digests, and its bodies are told apart as they are. */
async function digest(body: ArrayBuffer): Promise<string> {
  if (!crypto.subtle) return new TextDecoder().decode(body);
  return new Uint8Array(await crypto.subtle.digest("SHA-256", body)).toString();
}

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
