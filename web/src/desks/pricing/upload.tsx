import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { FileChoice } from "../../frame/file-choice";

type Kept = Schema["KeptFile"];

interface Props {
  id: number;
  words: string;
  onKept: (file: Kept) => void;
}

/** Uploads a PDF or a picture for a proposal. */
export function Upload({ id, words, onKept }: Props) {
  const keep = useAct(
    (file: File) =>
      api.post("/api/files/proposals/{id}", {
        path: { id },
        query: { name: file.name },
        body: file,
      }),
    { done: onKept },
  );
  return <FileChoice words={words} busy={keep.isPending} problem={keep.error} onFile={(file) => keep.mutate(file)} />;
}
