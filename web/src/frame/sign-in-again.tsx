import { useAct } from "../api/act";
import { api } from "../api/client";
import { useSession } from "../api/session";
import { Dialog } from "./dialog";
import { TextField } from "./form/fields";
import formCss from "./form/form.module.css";
import { useTyping } from "./form/use-typing";
import { Refused } from "./state";

/** Signing in over the page when the session has ended: what was typed stays, and what was asked goes on. */
export default function SignInAgain({ onClose }: { onClose: (again: boolean) => void }) {
  const { personId, name } = useSession();
  const form = useTyping({ mail: "", password: "", code: "" });
  const { typed } = form;
  const signIn = useAct(() => api.post("/api/session", { body: { ...typed, code: typed.code || undefined } }), {
    done: (session) => {
      if (session.personId !== personId)
        window.location.assign("/"); // somebody else: nothing of this page is theirs
      else onClose(true);
    },
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
        <TextField of={form} name="mail" label="Mail address" type="email" autoComplete="username" />
        <TextField of={form} name="password" label="Password" type="password" autoComplete="current-password" />
        {(signIn.field === "code" || typed.code) && (
          <TextField
            of={form}
            name="code"
            label="Code of your device, or a recovery code"
            autoComplete="one-time-code"
          />
        )}
      </div>
      <Refused by={signIn.error} />
    </Dialog>
  );
}
