import { useNavigate } from "react-router";
import { useSession } from "../api/session";
import { Menu } from "./menu";
import { useNotices } from "./notices";
import railCss from "./rail.module.css";
import { useSignOut } from "./sign-out";

/** Who is signed in: their initials, how many notices wait, and what they can do for themselves. */
export function Me() {
  const { initials, name, role, limited } = useSession();
  const navigate = useNavigate();
  const signOut = useSignOut();
  const told = useNotices().data?.length ?? 0;
  const notices = `${told} ${told === 1 ? "notice" : "notices"}`;
  return (
    <Menu
      items={[
        { key: "who", label: `${name}, ${role}`, disabled: true },
        {
          key: "account",
          label: told > 0 ? `My account, ${notices}` : "My account",
          onClick: () => navigate("/account"),
        },
        { key: "week", label: "My week", onClick: () => navigate("/time") },
        ...(role === "administrator" && limited.length === 0
          ? [{ key: "letters", label: "Letters that went out", onClick: () => navigate("/letters") }]
          : []),
        { key: "out", label: "Sign out", onClick: signOut },
      ]}
    >
      <button
        type="button"
        className={railCss.railMe}
        data-told={told || undefined}
        aria-label={`${initials}, ${name}: account${told > 0 ? `, ${notices}` : ""}`}
      >
        {initials}
      </button>
    </Menu>
  );
}
