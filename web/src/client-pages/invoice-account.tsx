import { useState } from "react";
import { Do } from "../frame/do";
import { TextField } from "../frame/form/fields";
import { Form } from "../frame/form/form";
import { useTyping } from "../frame/form/use-typing";
import { accountWords } from "./account-words";
import clientCss from "./client.module.css";
import { useAccountCode } from "./use-account";

/** The way from an invoice to all that the client has: a code that is mailed, then typed. */
export function ToAccount({ secret, language }: { secret: string; language: string }) {
  const w = accountWords(language);
  const { ask, open } = useAccountCode(secret);
  const [elsewhere, setElsewhere] = useState(false);
  const form = useTyping({ mail: "", code: "" });
  const { mail, code } = form.typed;
  return (
    <section aria-label={w.all} className={clientCss.clientForm}>
      <h2 className="sub">{w.all}</h2>
      {ask.isSuccess ? (
        <Form
          size="large"
          label={w.code}
          act={open}
          ok={w.open_it}
          ready={code.trim().length >= 6}
          onOk={() => open.mutate(code)}
        >
          <p role="status">{w.mailed}</p>
          <TextField of={form} name="code" label={w.code} autoComplete="one-time-code" focus />
        </Form>
      ) : (
        <>
          <p>{w.why}</p>
          <Form size="large" label={w.all} act={ask} ok={w.mail_code} onOk={() => ask.mutate(mail)}>
            {elsewhere ? (
              <TextField of={form} name="mail" label={w.other} type="email" autoComplete="email" focus />
            ) : (
              <p>
                <Do onClick={() => setElsewhere(true)}>{w.other}</Do>
              </p>
            )}
          </Form>
        </>
      )}
    </section>
  );
}
