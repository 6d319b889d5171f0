import { useState } from "react";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useRead } from "../../api/read";
import { Do } from "../../frame/do";
import { Copy } from "../../frame/form/copy";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Refused } from "../../frame/state";
import accountCss from "./account.module.css";

/** A code from a device at every sign-in: set with a code that proves it. Recovery codes stand in for a lost device. */
export function SecondFactor() {
  const [wanted, setWanted] = useState(false);
  const form = useTyping({ code: "" });
  const offer = useRead("/api/account/second-factor", undefined, { holds: Number.POSITIVE_INFINITY });
  const until = "/api/account/second-factor";
  const done = () => {
    form.set({ code: "" });
    setWanted(false);
  };
  const set = useAct(
    () => api.put("/api/account/second-factor", { body: { secret: offer.data?.secret ?? "", ...form.typed } }),
    { done, until },
  );
  const renew = useAct(() => api.post("/api/account/recovery-codes"), { done, until });
  const remove = useAct(() => api.post("/api/account/second-factor/removal"), {
    done: () => {
      set.reset();
      renew.reset();
      done();
    },
    until,
  });
  if (!offer.data) return null;
  const problem = set.error ?? renew.error ?? remove.error;
  const codes = renew.data ?? set.data;
  if (offer.data.set)
    return (
      <>
        <p>
          A code of your device is asked for at every sign-in. {leftOf(offer.data.left)}{" "}
          <Do onClick={() => renew.mutate()}>Make new recovery codes</Do>{" "}
          <Do onClick={() => remove.mutate()}>Remove the second factor</Do>
        </p>
        {codes && <RecoveryCodes codes={codes} />}
        <Refused by={problem} />
      </>
    );
  if (!wanted)
    return (
      <p>
        Your password alone lets you in. <Do onClick={() => setWanted(true)}>Add one</Do>
      </p>
    );
  return (
    <Form
      label="Second factor"
      act={set}
      ok="Ask for it from now on"
      ready={form.typed.code !== ""}
      onOk={() => set.mutate()}
      no="Cancel"
      onNo={() => setWanted(false)}
    >
      <p>
        Type this secret into an app for one-time codes, or <a href={offer.data.uri}>open it there</a>:
        <Copy label="Secret" value={offer.data.secret} />
      </p>
      <TextField of={form} name="code" label="The code that it shows" focus autoComplete="one-time-code" />
    </Form>
  );
}

const leftOf = (left: number) =>
  left === 0
    ? "No recovery code is left."
    : `${left} recovery ${left === 1 ? "code is" : "codes are"} left, for when it is lost.`;

/** Shown once: the data keeps what the codes come to, not the codes. */
function RecoveryCodes({ codes }: { codes: string[] }) {
  return (
    <div role="status">
      <p>
        Keep these recovery codes where nobody else looks. Each signs you in once, in place of your device. They are
        shown only now.
      </p>
      <ul className={accountCss.recoveryCodes}>
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
    </div>
  );
}
