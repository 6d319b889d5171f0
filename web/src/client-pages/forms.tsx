import { Button, Input } from "antd";
import { useState } from "react";
import { Refused } from "../frame/state";
import clientCss from "./client.module.css";
import { useClientActs } from "./use-link";

interface FormProps {
  secret: string;
  onDone?: () => void;
}

/** A question to whoever sent the proposal. */
export function AskForm({ secret, onDone }: FormProps) {
  const { ask } = useClientActs(secret);
  const [text, setText] = useState("");
  return (
    <section aria-label="Ask a question" className={clientCss.clientForm}>
      <label>
        Your question
        <Input.TextArea autoSize={{ minRows: 3 }} value={text} onChange={(event) => setText(event.target.value)} />
      </label>
      <Refused by={ask.error} />
      <Button type="primary" loading={ask.isPending} onClick={() => ask.mutate(text, { onSuccess: onDone })}>
        Send the question
      </Button>
    </section>
  );
}

/** Declining, with a reason if one wants to give it. */
export function DeclineForm({ secret }: FormProps) {
  const { decline } = useClientActs(secret);
  const [text, setText] = useState("");
  return (
    <section aria-label="Decline" className={clientCss.clientForm}>
      <label>
        Why not? It helps us, and you need not say
        <Input.TextArea autoSize={{ minRows: 3 }} value={text} onChange={(event) => setText(event.target.value)} />
      </label>
      <Refused by={decline.error} />
      <Button danger loading={decline.isPending} onClick={() => decline.mutate(text)}>
        Decline this proposal
      </Button>
    </section>
  );
}

/** Passing it on to whoever signs, who gets a link of their own. */
export function PassForm({ secret, onDone }: FormProps) {
  const { pass } = useClientActs(secret);
  const [typed, setTyped] = useState({ name: "", mail: "", word: "" });
  const field = (name: keyof typeof typed, label: string) => (
    <label>
      {label}
      <Input value={typed[name]} onChange={(event) => setTyped({ ...typed, [name]: event.target.value })} />
    </label>
  );
  return (
    <section aria-label="Pass it on" className={clientCss.clientForm}>
      {field("name", "Name of who signs")}
      {field("mail", "Their mail")}
      {field("word", "A word to them")}
      <Refused by={pass.error} />
      {pass.data && (
        <p role="status">
          {pass.data.sent
            ? "It is on its way."
            : "We do not know this address yet: whoever sent you the proposal is asked, and then mails the link."}
        </p>
      )}
      <Button type="primary" loading={pass.isPending} onClick={() => pass.mutate(typed, { onSuccess: onDone })}>
        Mail them a link
      </Button>
    </section>
  );
}
