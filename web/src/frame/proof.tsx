import { Input, type InputRef, Modal } from "antd";
import { useEffect, useRef, useState } from "react";
import { useAct } from "../api/act";
import { api } from "../api/client";
import { proof } from "../api/proof";

/** Asks for the password once more, before bank details, roles, limits and accounts are changed. */
export function Proof() {
  const [open, setOpen] = useState(false);
  const [password, setPassword] = useState("");
  const field = useRef<InputRef>(null);
  const answer = useRef<(right: boolean) => void>(undefined);
  const confirm = useAct(() => api.post("/api/account/confirmation", { body: { password } }), {
    done: () => close(true),
  });
  const close = (right: boolean) => {
    setOpen(false);
    setPassword("");
    confirm.reset();
    answer.current?.(right);
    answer.current = undefined;
  };
  useEffect(() => {
    proof.ask = () =>
      new Promise((resolve) => {
        answer.current?.(false); // who asked before is not answered any more
        answer.current = resolve;
        setOpen(true);
      });
    return () => {
      proof.ask = () => Promise.resolve(false);
    };
  }, []);
  return (
    <Modal
      open={open}
      title="Your password, once more"
      okText="Go on"
      cancelText="Leave it as it is"
      okButtonProps={{ disabled: password === "", loading: confirm.isPending }}
      onOk={() => confirm.mutate()}
      onCancel={() => close(false)}
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
      {confirm.error && (
        <p className="refusal" role="alert">
          {confirm.error.message}
        </p>
      )}
    </Modal>
  );
}
