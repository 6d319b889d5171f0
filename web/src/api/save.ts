import { Problem } from "./client";

/** Gives a file of the server's to whoever asked for it, under its name. */
export async function save(answer: Response) {
  if (!answer.ok) {
    const said = await answer.json().catch(() => null);
    throw new Problem(answer.status, said?.detail ?? "The file can't be made. Load the page again.");
  }
  const said = answer.headers.get("Content-Disposition") ?? "";
  const coded = /filename\*=utf-8''([^;]+)/i.exec(said)?.[1]; // a name with letters beyond ASCII: RFC 6266
  const name = coded ? decodeURIComponent(coded) : /filename="?([^";]+)"?/.exec(said)?.[1];
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await answer.blob());
  link.download = name ?? "document";
  link.click();
  URL.revokeObjectURL(link.href);
}
