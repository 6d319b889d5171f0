import { Button, Input } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useRead } from "../../api/read";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";
import { Refused } from "../../frame/state";
import accountCss from "./account.module.css";

/** A code from a device at every sign-in: set with a code that proves it. Recovery codes stand in for a lost device. */
export function SecondFactor() {
  const [wanted, setWanted] = useState(false);
  const [text, setText] = useState("");
  const offer = useRead("/api/account/second-factor", undefined, { holds: Number.POSITIVE_INFINITY });
  const until = "/api/account/second-factor";
  const done = () => {
    setText("");
    setWanted(false);
  };
  const set = useAct(
    () => api.put("/api/account/second-factor", { body: { secret: offer.data?.secret ?? "", code: text } }),
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
    <form
      className={formCss.newRecord}
      onSubmit={(event) => {
        event.preventDefault();
        set.mutate();
      }}
    >
      <p>
        Type this secret into an app for one-time codes, or <a href={offer.data.uri}>open it there</a>:
        <input
          className={formCss.copy}
          readOnly
          aria-label="Secret"
          value={offer.data.secret}
          onFocus={(event) => event.target.select()}
        />
      </p>
      <label htmlFor="factor-text">
        The code that it shows
        <Input
          id="factor-text"
          autoFocus
          inputMode="numeric"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <Refused by={problem} />
      <p className={formCss.newActs}>
        <Button htmlType="submit" disabled={!text} loading={set.isPending}>
          Ask for it from now on
        </Button>
        <Button type="text" onClick={() => setWanted(false)}>
          Cancel
        </Button>
      </p>
    </form>
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
