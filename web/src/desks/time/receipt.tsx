import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Problem } from "../../api/client";
import { Pages } from "../../frame/pages";
import type { AttachedFile } from "./attachments";
import recordingCss from "./recording.module.css";

/** The bytes of a receipt: from the disk while it is new, else from the server. */
async function bytesOf(file: AttachedFile, local?: File): Promise<Blob> {
  if (local) return local;
  const answer = await fetch(`/api/receipts/${file.digest}`);
  if (!answer.ok) throw new Problem(answer.status, "The file can't be read. Load the page again.");
  return answer.blob();
}

/** A receipt, drawn in place: a picture as it is, a PDF page by page on canvases. It is never framed. */
export function Receipt({ file, local }: { file: AttachedFile; local?: File }) {
  const content = useQuery({
    queryKey: ["receipt", file.digest],
    queryFn: () => bytesOf(file, local),
    staleTime: 600_000,
    meta: { holds: true },
  });
  if (content.error) return <p className="refusal">{content.error.message}</p>;
  if (!content.data) return null;
  return (
    <figure className={recordingCss.receipt}>
      {file.mediaType === "application/pdf" ? (
        <Pages of={content.data} name={file.name} />
      ) : (
        <Picture of={content.data} name={file.name} />
      )}
    </figure>
  );
}

function Picture({ of, name }: { of: Blob; name: string }) {
  const [address] = useState(() => URL.createObjectURL(of));
  useEffect(() => () => URL.revokeObjectURL(address), [address]);
  return <img src={address} alt={name} />;
}
