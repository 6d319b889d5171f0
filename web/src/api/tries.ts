/**
 * The keys of the tries of acts. A key belongs to one try of one act: it is kept until the act was answered, so that
 * asking again after an answer was lost, or clicking twice, does not do it twice; the same act after an answer is
 * another one.
 */
class Tries {
  private readonly keys = new Map<string, string>();

  keyOf(said: string): string {
    const key = this.keys.get(said) ?? newKey();
    this.keys.set(said, key);
    return key;
  }

  /** What stands between page and server may answer in its place: then nobody knows what was done. */
  answered(said: string, status: number) {
    if (status < 502 || status > 504) this.keys.delete(said);
  }
}

/** A page that is not served safely has no randomUUID. */
function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, "0")).join("");
}

export const tries = new Tries();
