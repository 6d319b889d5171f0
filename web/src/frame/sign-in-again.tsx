import { Input } from "antd";
import { useState } from "react";
import { useAct } from "../api/act";
import { api } from "../api/client";
import { useSession } from "../api/session";
import { Dialog } from "./dialog";
import formCss from "./form/form.module.css";
import { Refused } from "./state";

const nothing = { mail: "", password: "", code: "" };

/** Signing in over the page when the session has ended: what was typed stays, and what was asked goes on. */
export default function SignInAgain({ onClose }: { onClose: (again: boolean) => void }) {
  const { personId, name } = useSession();
  const [typed, setTyped] = useState(nothing);
  const signIn = useAct(() => api.post("/api/session", { body: { ...typed, code: typed.code || undefined } }), {
    done: (session) => {
      if (session.personId !== personId)
        window.location.assign("/"); // somebody else: nothing of this page is theirs
      else onClose(true);
    },
  });
  const line = (part: keyof typeof nothing) => ({
    value: typed[part],
    onChange: (event: { target: { value: string } }) => setTyped({ ...typed, [part]: event.target.value }),
    onPressEnter: () => typed.password && signIn.mutate(),
  });
  return (
    <Dialog
      title={`Sign in again, ${name}`}
      ok="Sign in"
      no="Not now"
      disabled={!typed.mail || !typed.password}
      pending={signIn.isPending}
      onOk={() => signIn.mutate()}
      onNo={() => onClose(false)}
    >
      <p>Your session has ended. What you typed is kept, and goes on from here.</p>
      <div className={formCss.form}>
        <label>
          Mail address
          <Input autoComplete="username" inputMode="email" {...line("mail")} />
        </label>
        <label>
          Password
          <Input.Password autoComplete="current-password" {...line("password")} />
        </label>
        {(signIn.field === "code" || typed.code) && (
          <label>
            Code of your device, or a recovery code
            <Input autoComplete="one-time-code" {...line("code")} />
          </label>
        )}
      </div>
      <Refused by={signIn.error} />
    </Dialog>
  );
}
