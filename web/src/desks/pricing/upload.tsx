import { useMutation } from "@tanstack/react-query";
import { api, of, type Schema } from "../../api/client";
import { FileChoice, fileBody } from "../../frame/file-choice";

type Kept = Schema["KeptFile"];

interface Props {
  id: number;
  words: string;
  onKept: (file: Kept) => void;
}

/** Uploads a PDF or a picture for a proposal. */
export function Upload({ id, words, onKept }: Props) {
  const keep = useMutation({
    mutationFn: (file: File) =>
      of(
        api.POST("/api/files/proposals/{id}", {
          params: { path: { id }, query: { name: file.name } },
          ...fileBody(file),
        }),
      ),
    onSuccess: onKept,
  });
  return <FileChoice words={words} busy={keep.isPending} problem={keep.error} onFile={(file) => keep.mutate(file)} />;
}
