import createClient from "openapi-fetch";
import { attended } from "./attended";
import { retold } from "./hours";
import { asks } from "./proof";
import type { components, paths } from "./schema";
import { tries } from "./tries";

export type Schema = components["schemas"];
export type Amount = Schema["Amount"];
export type Step = Schema["Step"];

type Method = "get" | "post" | "put" | "delete";

/** The addresses of the contract that answer to a method. */
export type AddressOf<M extends Method> = {
  [P in keyof paths]: paths[P][M] extends object ? P : never;
}[keyof paths];

type Operation<P extends keyof paths, M extends Method> = NonNullable<paths[P][M]>;
type Part<O, N extends "path" | "query"> = O extends { parameters: Record<N, infer X> }
  ? Record<N, X>
  : O extends { parameters: { [K in N]?: infer X } }
    ? [X] extends [undefined]
      ? unknown
      : { [K in N]?: X }
    : unknown;
type Body<O> = O extends { requestBody: { content: infer C } }
  ? { body: C extends { "application/octet-stream": unknown } ? Blob : C[keyof C] }
  : unknown;
type Secret<O> = O extends { parameters: { header: { "Link-Secret": string } } } ? { secret: string } : unknown;

/** What a call is given: the parts of its address, what is sought, what is sent. Acts get the key of their try by themselves. */
export type Asked<M extends Method, P extends AddressOf<M>> = Part<Operation<P, M>, "path"> &
  Part<Operation<P, M>, "query"> &
  Body<Operation<P, M>> &
  Secret<Operation<P, M>>;

/** What a call answers. */
export type Answered<M extends Method, P extends AddressOf<M>> =
  Operation<P, M> extends { responses: { 200: { content: { "application/json": infer D } } } } ? D : null;

/** What a call is given may be left out where nothing of it is needed. */
export type Given<A> = Record<never, never> extends A ? [asked?: A] : [asked: A];

type Call<M extends Method> = <P extends AddressOf<M>>(
  address: P,
  ...given: Given<Asked<M, P>>
) => Promise<Answered<M, P>>;

const server = createClient<paths>({ baseUrl: "/", fetch: async (request) => told(await send(request)) });

/** An answer in the words of whoever reads it. */
async function told(answer: Response): Promise<Response> {
  if (!answer.headers.get("Content-Type")?.includes("json")) return answer;
  const { status, statusText, headers } = answer;
  return new Response(retold(await answer.text()), { status, statusText, headers });
}

interface Parts {
  path?: Record<string, unknown>;
  query?: Record<string, unknown>;
  body?: unknown;
  secret?: string;
}

const call =
  <M extends Method>(method: M): Call<M> =>
  async (address, ...given) => {
    const { body, secret, ...params } = (given[0] ?? {}) as Parts;
    const file = body instanceof Blob;
    const init = {
      params,
      body,
      ...(file ? { bodySerializer: () => body } : {}),
      headers: {
        ...(file ? { "Content-Type": "application/octet-stream" } : {}),
        ...(secret ? { "Link-Secret": secret } : {}),
      },
    };
    return dataOf(server.request(method as never, address as never, init as never) as never) as never;
  };

/** The contract: each call gives what was answered, or throws a [Problem]. */
export const api = { get: call("get"), post: call("post"), put: call("put"), delete: call("delete") };

/**
 * Sends a request; where the server wants the password once more, or the session has ended, that is asked for over what
 * stands on the page, and the request is made again.
 */
export async function send(request: Request): Promise<Response> {
  if (request.method === "GET" && !attended()) request.headers.set("Dorvet-Unattended", "yes");
  const once = request.method === "GET" ? fetch : sendOnce;
  const again = request.clone();
  const answer = await once(request);
  if (answer.status === 428 && (await asks.proof())) return once(again);
  if (answer.status === 401 && !isSignIn(request) && (await asks.signIn())) return once(again);
  return answer;
}

/** Signing in is itself refused like that. */
const isSignIn = ({ method, url }: Request) => method === "POST" && new URL(url).pathname === "/api/session";

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

type Answer = { data?: unknown; error?: Schema["ErrorModel"]; response: Response };

/** The data of an answer, or its problem thrown. */
async function dataOf(asked: Promise<Answer>): Promise<unknown> {
  let answer: Answer;
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
