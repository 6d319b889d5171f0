import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Problem } from "../api/client";
import pagesCss from "./pages.module.css";

const mostPages = 20;

/** The pages of a PDF, drawn on canvases; what draws them is loaded when the first is. It is never framed. */
export function Pages({ of, name, onDrawn }: { of: Blob; name: string; onDrawn?: (pages: number) => void }) {
  const place = useRef<HTMLDivElement>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let gone = false;
    const drawn: HTMLCanvasElement[] = [];
    draw(of, (canvas) => drawn.push(canvas))
      .then(() => {
        if (gone) return;
        place.current?.replaceChildren(...drawn);
        onDrawn?.(drawn.length);
      })
      .catch(() => !gone && setProblem("This PDF can't be drawn. Save it again, then choose it anew."));
    return () => {
      gone = true;
    };
  }, [of, onDrawn]);
  return (
    <>
      <div ref={place} className={pagesCss.pages} role="img" aria-label={name} />
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

/** The pages of a document of the server's; the last ones stay until the next are drawn. */
export function DocumentPages({ address, version, name }: { address: string; version?: string; name: string }) {
  const content = useQuery({
    queryKey: ["pages", address, version],
    queryFn: async () => {
      const answer = await fetch(address);
      if (answer.ok) return answer.blob();
      const said = await answer.json().catch(() => null);
      throw new Problem(answer.status, said?.detail ?? "The document can't be drawn. Load the page again.");
    },
    placeholderData: (before) => before,
    meta: { holds: version !== undefined },
  });
  if (content.error) return <p className="refusal">{content.error.message}</p>;
  return content.data ? <Pages of={content.data} name={name} /> : <p className="soft">Drawing…</p>;
}
