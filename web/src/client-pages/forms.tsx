import { TextField } from "../frame/form/fields";
import { Form } from "../frame/form/form";
import { useTyping } from "../frame/form/use-typing";
import clientCss from "./client.module.css";
import { useClientActs } from "./use-link";

interface FormProps {
  secret: string;
  onDone?: () => void;
}

/** A question to whoever sent the proposal. */
export function AskForm({ secret, onDone }: FormProps) {
  const { ask } = useClientActs(secret);
  const form = useTyping({ text: "" });
  return (
    <Form
      size="large"
      className={clientCss.clientForm}
      label="Ask a question"
      act={ask}
      ok="Send the question"
      onOk={() => ask.mutate(form.typed.text, { onSuccess: onDone })}
    >
      <TextField of={form} name="text" label="Your question" rows={3} />
    </Form>
  );
}

/** Declining, with a reason if one wants to give it. */
export function DeclineForm({ secret }: FormProps) {
  const { decline } = useClientActs(secret);
  const form = useTyping({ text: "" });
  return (
    <Form
      size="large"
      className={clientCss.clientForm}
      label="Decline"
      act={decline}
      ok="Decline this proposal"
      danger
      onOk={() => decline.mutate(form.typed.text)}
    >
      <TextField of={form} name="text" label="Why not? It helps us, and you need not say" rows={3} />
    </Form>
  );
}

/** Passing it on to whoever signs, who gets a link of their own. */
export function PassForm({ secret, onDone }: FormProps) {
  const { pass } = useClientActs(secret);
  const form = useTyping({ name: "", mail: "", word: "" });
  return (
    <Form
      size="large"
      className={clientCss.clientForm}
      label="Pass it on"
      act={pass}
      ok="Mail them a link"
      onOk={() => pass.mutate(form.typed, { onSuccess: onDone })}
    >
      <TextField of={form} name="name" label="Name of who signs" />
      <TextField of={form} name="mail" label="Their mail" type="email" />
      <TextField of={form} name="word" label="A word to them" />
      {pass.data && (
        <p role="status">
          {pass.data.sent
            ? "It is on its way."
            : "We do not know this address yet: whoever sent you the proposal is asked, and then mails the link."}
        </p>
      )}
    </Form>
  );
}
