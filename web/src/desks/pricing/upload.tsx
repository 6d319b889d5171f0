import { useMutation } from "@tanstack/react-query";
import { Button } from "antd";
import { useRef } from "react";
import { api, of, type Schema } from "../../api/client";

type Kept = Schema["KeptFile"];

interface Props {
  id: number;
  words: string;
  onKept: (file: Kept) => void;
}

/** Uploads a PDF or a picture for a proposal. */
export function Upload({ id, words, onKept }: Props) {
  const field = useRef<HTMLInputElement>(null);
  const keep = useMutation({
    mutationFn: (file: File) =>
      of(
        api.POST("/api/files/proposals/{id}", {
          params: { path: { id }, query: { name: file.name } },
          body: file as unknown as string,
          bodySerializer: (body) => body,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    onSuccess: onKept,
  });
  return (
    <>
      <input
        ref={field}
        type="file"
        className="unseen"
        accept=".pdf,.png,.jpg,.jpeg"
        aria-label={words}
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) keep.mutate(file);
          event.target.value = "";
        }}
      />
      <Button size="small" loading={keep.isPending} onClick={() => field.current?.click()}>
        {words}
      </Button>
      {keep.error && <span className="refusal">{keep.error.message}</span>}
    </>
  );
}
