import { useAct } from "../api/act";
import { api } from "../api/client";
import { Dialog } from "./dialog";
import { TextField } from "./form/fields";
import formCss from "./form/form.module.css";
import { useTyping } from "./form/use-typing";
import { Refused } from "./state";

/** Asks for the password once more, before bank details, roles, limits and accounts are changed. */
export default function Proof({ onClose }: { onClose: (right: boolean) => void }) {
  const form = useTyping({ password: "" });
  const confirm = useAct(() => api.post("/api/account/confirmation", { body: form.typed }), {
    changesNothing: true,
    done: () => onClose(true),
  });
  return (
    <Dialog
      title="Your password, once more"
      ok="Go on"
      no="Leave it as it is"
      disabled={form.typed.password === ""}
      pending={confirm.isPending}
      onOk={() => confirm.mutate()}
      onNo={() => onClose(false)}
    >
      <p>This could lead money or sight astray if it were not you. It is asked again after five minutes.</p>
      <div className={formCss.form}>
        <TextField of={form} name="password" label="Your password" type="password" autoComplete="current-password" />
      </div>
      <Refused by={confirm.error} />
    </Dialog>
  );
}
