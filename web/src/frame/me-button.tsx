import type { ComponentProps } from "react";
import { useSession } from "../api/session";
import { useNotices } from "./notices";

/** Initials, and how many notices wait. */
export function MeButton(props: ComponentProps<"button">) {
  const { initials, name } = useSession();
  const told = useNotices().data?.length ?? 0;
  return (
    <button
      type="button"
      aria-haspopup="menu"
      {...props}
      className="rail-me"
      data-told={told || undefined}
      aria-label={`${initials}, ${name}: account${told > 0 ? `, ${told} notices` : ""}`}
    >
      {initials}
    </button>
  );
}
