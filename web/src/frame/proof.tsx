import { Input } from "antd";
import { useState } from "react";
import { useAct } from "../api/act";
import { api } from "../api/client";
import { Dialog } from "./dialog";
import { Refused } from "./state";

/** Asks for the password once more, before bank details, roles, limits and accounts are changed. */
export default function Proof({ onClose }: { onClose: (right: boolean) => void }) {
  const [password, setPassword] = useState("");
  const confirm = useAct(() => api.post("/api/account/confirmation", { body: { password } }), {
    changesNothing: true,
    done: () => onClose(true),
  });
  return (
    <Dialog
      title="Your password, once more"
      ok="Go on"
      no="Leave it as it is"
      disabled={password === ""}
      pending={confirm.isPending}
      onOk={() => confirm.mutate()}
      onNo={() => onClose(false)}
    >
      <p>This could lead money or sight astray if it were not you. It is asked again after five minutes.</p>
      <Input.Password
        aria-label="Your password"
        autoComplete="current-password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        onPressEnter={() => password && confirm.mutate()}
      />
      <Refused by={confirm.error} />
    </Dialog>
  );
}
