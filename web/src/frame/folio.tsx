import { clsx } from "clsx";
import { createContext, type ReactNode, useContext, useEffect } from "react";
import deskCss from "./desk.module.css";

/** Whether the folio is turned to, where it is a page of its own (below 1180 px); beside the list it always shows. */
export const FolioContext = createContext({ open: false, turn: (_open: boolean) => {} });

export const useFolio = () => useContext(FolioContext);

/** What is selected, opened: beside the list, or behind it where there is no room. */
export function Folio({ label, children }: { label: string; children: ReactNode }) {
  const { open, turn } = useFolio();
  useEffect(() => {
    if (!open) return;
    const back = (event: KeyboardEvent) => event.key === "Escape" && turn(false);
    window.addEventListener("keydown", back);
    return () => window.removeEventListener("keydown", back);
  }, [open, turn]);
  return (
    <>
      <button type="button" className={clsx("link", deskCss.folioTurn)} onClick={() => turn(true)}>
        {label} in detail
      </button>
      <aside className={deskCss.folio} aria-label={label}>
        <button type="button" className={clsx("link", deskCss.folioBack)} onClick={() => turn(false)}>
          Back to the list
        </button>
        {children}
      </aside>
    </>
  );
}
