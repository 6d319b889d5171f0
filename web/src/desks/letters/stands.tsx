import { type SentLetter, stateWords } from "./use-letters";

/** How far a letter has come. */
export function Stands({ letter }: { letter: Pick<SentLetter, "state" | "openedAt" | "fetchedAt"> }) {
  return (
    <span className={letter.state === "failed" ? "lost" : undefined}>
      {stateWords[letter.state]}
      {letter.fetchedAt ? ", file fetched" : letter.openedAt && ", opened"}
    </span>
  );
}
