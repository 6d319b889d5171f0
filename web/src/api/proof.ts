/**
 * What is asked of a person while a request waits: the password once more, or to sign in again. The frame shows it, and
 * says whether the request may be made again; outside of it nothing is asked.
 */
export const asks = { proof: no, signIn: no };

function no(): Promise<boolean> {
  return Promise.resolve(false);
}
