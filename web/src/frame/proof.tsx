import { Input, type InputRef, Modal } from "antd";
import { useRef, useState } from "react";
import { useAct } from "../api/act";
import { api } from "../api/client";
import { Refused } from "./state";

/** Asks for the password once more, before bank details, roles, limits and accounts are changed. */
export default function Proof({ onClose }: { onClose: (right: boolean) => void }) {
  const [password, setPassword] = useState("");
  const field = useRef<InputRef>(null);
  const confirm = useAct(() => api.post("/api/account/confirmation", { body: { password } }), {
    changesNothing: true,
    done: () => onClose(true),
  });
  return (
    <Modal
      open
      title="Your password, once more"
      okText="Go on"
      cancelText="Leave it as it is"
      okButtonProps={{ disabled: password === "", loading: confirm.isPending }}
      onOk={() => confirm.mutate()}
      onCancel={() => onClose(false)}
      afterOpenChange={(shown) => shown && field.current?.focus()}
      destroyOnHidden
    >
      <p>This could lead money or sight astray if it were not you. It is asked again after five minutes.</p>
      <Input.Password
        ref={field}
        aria-label="Your password"
        autoComplete="current-password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        onPressEnter={() => password && confirm.mutate()}
      />
      <Refused by={confirm.error} />
    </Modal>
  );
}
