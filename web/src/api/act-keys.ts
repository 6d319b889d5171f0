import { useState } from "react";

/**
 * Keys that make an act happen once. The same content has the same key until the act is done, so that asking again
 * after an answer was lost does not do it twice.
 */
export class ActKeys {
  private readonly keys = new Map<string, string>();

  keyOf(content: unknown): string {
    const said = JSON.stringify(content);
    const key = this.keys.get(said) ?? crypto.randomUUID();
    this.keys.set(said, key);
    return key;
  }

  done(content: unknown) {
    this.keys.delete(JSON.stringify(content));
  }
}

export const useActKeys = () => useState(() => new ActKeys())[0];
