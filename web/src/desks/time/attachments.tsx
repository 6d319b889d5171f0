import { useState } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { Do } from "../../frame/do";
import { FileChoice } from "../../frame/file-choice";
import { Receipt } from "./receipt";
import recordingCss from "./recording.module.css";

export type AttachedFile = Schema["AttachedFile"];

/** What is attached to an entry; 0 asks for nothing. */
export function useEntryFiles(id: number): AttachedFile[] {
  const files = useRead("/api/time-entries/{id}/files", { path: { id } }, { when: id !== 0 });
  return files.data ?? [];
}

interface Props {
  files: AttachedFile[];
  readOnly: boolean;
  words: string;
  onChange: (files: AttachedFile[]) => void;
}

/** What is attached: shown in place, taken away, and others added. */
export function Attachments({ files, readOnly, words, onChange }: Props) {
  const [open, setOpen] = useState("");
  const keep = useAct(
    (file: File) =>
      api.post("/api/files/receipts", {
        query: { name: file.name },
        body: file,
      }),
    {
      done: (kept, file) => {
        fresh.set(kept.digest, file);
        setOpen(kept.digest);
        onChange([...files, kept]);
      },
    },
  );
  const shown = files.find((f) => f.digest === open) ?? (files.length === 1 ? files[0] : undefined);
  return (
    <div className={recordingCss.attachments}>
      {files.map((file) => (
        <p key={file.digest} className={recordingCss.attached}>
          <Do onClick={() => setOpen(file.digest)}>{file.name}</Do>
          {!readOnly && (
            <button
              type="button"
              className="link soft"
              aria-label={`Take ${file.name} away`}
              onClick={() => onChange(files.filter((f) => f !== file))}
            >
              ×
            </button>
          )}
        </p>
      ))}
      {!readOnly && (
        <FileChoice words={words} busy={keep.isPending} problem={keep.error} onFile={(file) => keep.mutate(file)} />
      )}
      {shown && <Receipt key={shown.digest} file={shown} local={fresh.get(shown.digest)} />}
    </div>
  );
}

/** Files that were just chosen: shown from the disk until something that names them is saved. */
const fresh = new Map<string, File>();
