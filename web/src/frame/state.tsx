import { Problem } from "../api/client";
import { asks } from "../api/proof";

/** What is known of something that is read. */
export interface Reads {
  data?: unknown;
  error: Error | null;
  isPending: boolean;
  refetch: () => unknown;
}

/** Something that is here already, or not yet. */
export const there = (data: unknown): Reads => ({
  data,
  error: null,
  isPending: data === undefined,
  refetch: () => {},
});

/** What could not be read, why, and the way to try again; what may not be read says so and offers nothing. */
export function Failed({ of: problem, again }: { of: Error; again: () => unknown }) {
  const status = problem instanceof Problem ? problem.status : 500;
  const refused = status >= 400 && status < 500 && status !== 401;
  const goOn = async () => {
    if (status !== 401 || (await asks.signIn())) again();
  };
  return (
    <p className="refusal" role="alert">
      {problem.message}{" "}
      {!refused && (
        <button type="button" className="link" onClick={goOn}>
          {status === 401 ? "Sign in" : "Try again"}
        </button>
      )}
    </p>
  );
}

/** Why an act was refused, in the sentence of the server. */
export function Refused({ by, inline }: { by: Error | null | undefined; inline?: boolean }) {
  if (!by) return null;
  const Part = inline ? "span" : "p";
  return (
    <Part className="refusal" role="alert">
      {by.message}
    </Part>
  );
}
