import { Dropdown } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useSession } from "../api/session";
import { MeButton } from "./me-button";
import { useNotices } from "./notices";
import { useSignOut } from "./sign-out";

/** The menu of who is signed in. */
export default function MeMenu() {
  const [open, setOpen] = useState(true);
  const { name, role, limited } = useSession();
  const navigate = useNavigate();
  const told = useNotices().data?.length ?? 0;
  const signOut = useSignOut();
  return (
    <Dropdown
      trigger={["click"]}
      open={open}
      onOpenChange={setOpen}
      autoFocus
      menu={{
        onClick: () => setOpen(false),
        items: [
          { key: "who", label: `${name}, ${role}`, disabled: true },
          {
            key: "account",
            label: told > 0 ? `My account, ${told} ${told === 1 ? "notice" : "notices"}` : "My account",
            onClick: () => navigate("/account"),
          },
          { key: "week", label: "My week", onClick: () => navigate("/time") },
          ...(role === "administrator" && limited.length === 0
            ? [{ key: "mails", label: "Mails that went out", onClick: () => navigate("/mails") }]
            : []),
          { key: "out", label: "Sign out", onClick: signOut },
        ],
      }}
    >
      <MeButton />
    </Dropdown>
  );
}
