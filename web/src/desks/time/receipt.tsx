import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Problem } from "../../api/client";
import type { AttachedFile } from "./attachments";

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
  });
  if (content.error) return <p className="refusal">{content.error.message}</p>;
  if (!content.data) return null;
  return (
    <figure className="receipt">
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

const mostPages = 20;

/** The pages of a PDF; what draws them is loaded when the first is. */
function Pages({ of, name }: { of: Blob; name: string }) {
  const place = useRef<HTMLDivElement>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let gone = false;
    draw(of, (canvas) => !gone && place.current?.append(canvas)).catch(
      () => !gone && setProblem("This PDF can't be drawn. Save it again, then choose it anew."),
    );
    return () => {
      gone = true;
      place.current?.replaceChildren();
    };
  }, [of]);
  return (
    <>
      <div ref={place} role="img" aria-label={name} />
      {problem && <p className="refusal">{problem}</p>}
    </>
  );
}

async function draw(of: Blob, onPage: (canvas: HTMLCanvasElement) => void) {
  const [{ getDocument, GlobalWorkerOptions }, worker] = await Promise.all([
    import("pdfjs-dist"),
    import("pdfjs-dist/build/pdf.worker.min.mjs?url"),
  ]);
  GlobalWorkerOptions.workerSrc = worker.default;
  const pdf = await getDocument({ data: new Uint8Array(await of.arrayBuffer()), isEvalSupported: false }).promise;
  for (let number = 1; number <= Math.min(pdf.numPages, mostPages); number++) {
    const page = await pdf.getPage(number);
    const viewport = page.getViewport({ scale: 1.5 });
    const canvas = document.createElement("canvas");
    canvas.width = viewport.width;
    canvas.height = viewport.height;
    await page.render({ canvas, viewport }).promise;
    onPage(canvas);
  }
}
