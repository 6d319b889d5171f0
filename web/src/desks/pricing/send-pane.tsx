import { Button } from "antd";
import { clsx } from "clsx";
import { Link } from "react-router";
import { useAsked } from "../../api/read";
import deskCss from "../../frame/desk.module.css";
import { Copy } from "../../frame/form/copy";
import { ChoiceField, TextField } from "../../frame/form/fields";
import { Field, Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { useSettled } from "../../frame/use-settled";
import pricingCss from "./pricing.module.css";
import { type Proposal, useProposalActs } from "./use-proposal";

/** Sends a proposal: by mail, which is shown before, or by a link that is given by hand. */
export function SendPane({ proposal, onDone }: { proposal: Proposal; onDone: () => void }) {
  const first = proposal.contacts[0];
  const form = useTyping({ name: first?.name ?? "", mail: first?.mail ?? "", copies: "", word: "" });
  const acts = useProposalActs(proposal.id);
  const sending = { ...form.typed, version: proposal.version, mailed: true };
  const settled = useSettled(sending, 250);
  const preview = useAsked("/api/proposals/{id}/mail", { path: { id: proposal.id }, body: settled }, { keeps: true });
  const link = acts.send.data?.link;
  // Whoever is chosen has a name, too.
  const whom = {
    ...form,
    set: ({ mail = "" }: { mail?: string }) =>
      form.set({ mail, name: proposal.contacts.find((contact) => contact.mail === mail)?.name ?? form.typed.name }),
  };
  return (
    <section className="send-pane">
      <Form
        label="Send"
        title={`Send ${proposal.number}`}
        act={acts.send}
        ok={preview.data?.stays ? "Mail it, to stay here" : "Mail it"}
        ready={!preview.data?.problem}
        onOk={() => acts.send.mutate(sending, { onSuccess: onDone })}
        more={
          <Button loading={acts.send.isPending} onClick={() => acts.send.mutate({ ...sending, mailed: false })}>
            Make a link instead
          </Button>
        }
      >
        {proposal.contacts.length > 1 && (
          <ChoiceField
            of={whom}
            name="mail"
            label="Contact"
            options={proposal.contacts.map(({ name, mail }) => ({ value: mail, label: `${name}, ${mail}` }))}
          />
        )}
        <TextField of={form} name="name" label="Name" />
        <TextField of={form} name="mail" label="Mail; the code before the signature goes there, too" />
        <TextField of={form} name="copies" label="Copies to" />
        <TextField of={form} name="word" label="A personal word above the mail" rows={2} />
        {preview.data?.problem && (
          <p className={clsx(deskCss.findingBox, formCss.wide)}>
            {preview.data.problem} <Link to="/set-up/entities">Open them</Link>
          </p>
        )}
        {preview.data?.stays && (
          <p className={clsx("soft", formCss.wide)}>
            No mail server is set: the mail stays on this machine, under <Link to="/mails">Mails</Link>. A link can be
            given by hand.
          </p>
        )}
      </Form>
      {link && (
        <Field label="The link, shown this once">
          <Copy label="The link" value={link} />
        </Field>
      )}
      {preview.data && (
        <article className={pricingCss.mailPreview} aria-label="The mail as it will go out">
          <h2 className="sub">{preview.data.subject}</h2>
          <p>{preview.data.body}</p>
        </article>
      )}
    </section>
  );
}
