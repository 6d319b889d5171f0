import { Problem } from "../api/client";

/** What is known of something that is read. */
export interface Reads {
  data?: unknown;
  error: Error | null;
  isPending: boolean;
  refetch: () => unknown;
}

/** What could not be read, why, and the way to try again; what may not be read says so and offers nothing. */
export function Failed({ of: problem, again }: { of: Error; again: () => unknown }) {
  const refused = problem instanceof Problem && problem.status >= 400 && problem.status < 500;
  return (
    <p className="refusal" role="alert">
      {problem.message}{" "}
      {!refused && (
        <button type="button" className="link" onClick={() => again()}>
          Try again
        </button>
      )}
    </p>
  );
}
