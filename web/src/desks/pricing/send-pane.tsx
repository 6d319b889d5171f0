import { Button, Input, Select } from "antd";
import { useState } from "react";
import { useAsked } from "../../api/read";
import formCss from "../../frame/form/form.module.css";
import { Refused } from "../../frame/state";
import { useSettled } from "../../frame/use-settled";
import pricingCss from "./pricing.module.css";
import { type Proposal, useProposalActs } from "./use-proposal";

/** Sends a proposal: by mail, which is shown before, or by a link that is given by hand. */
export function SendPane({ proposal, onDone }: { proposal: Proposal; onDone: () => void }) {
  const first = proposal.contacts[0];
  const [name, setName] = useState(first?.name ?? "");
  const [mail, setMail] = useState(first?.mail ?? "");
  const [copies, setCopies] = useState("");
  const [word, setWord] = useState("");
  const acts = useProposalActs(proposal.id);
  const sending = { version: proposal.version, name, mail, copies, word, mailed: true };
  const settled = useSettled(sending, 250);
  const preview = useAsked("/api/proposals/{id}/mail", { path: { id: proposal.id }, body: settled }, { keeps: true });
  const link = acts.send.data?.link;
  return (
    <section aria-label="Send" className="send-pane">
      <h2>Send {proposal.number}</h2>
      {proposal.contacts.length > 1 && (
        <Select
          variant="underlined"
          aria-label="Contact"
          value={mail}
          options={proposal.contacts.map((contact) => ({
            value: contact.mail,
            label: `${contact.name}, ${contact.mail}`,
            title: contact.name,
          }))}
          onChange={(chosen: string) => {
            setMail(chosen);
            setName(proposal.contacts.find((contact) => contact.mail === chosen)?.name ?? name);
          }}
        />
      )}
      <label className={formCss.stacked}>
        Name
        <Input variant="underlined" value={name} onChange={(event) => setName(event.target.value)} />
      </label>
      <label className={formCss.stacked}>
        Mail; the code before the signature goes there, too
        <Input variant="underlined" value={mail} onChange={(event) => setMail(event.target.value)} />
      </label>
      <label className={formCss.stacked}>
        Copies to
        <Input variant="underlined" value={copies} onChange={(event) => setCopies(event.target.value)} />
      </label>
      <label className={formCss.stacked}>
        A personal word above the mail
        <Input.TextArea
          value={word}
          autoSize={{ minRows: 2, maxRows: 6 }}
          onChange={(event) => setWord(event.target.value)}
        />
      </label>
      <Refused by={acts.send.error} />
      <p className={formCss.buttons}>
        <Button
          type="primary"
          loading={acts.send.isPending}
          onClick={() => acts.send.mutate(sending, { onSuccess: onDone })}
        >
          Mail it
        </Button>
        <Button loading={acts.send.isPending} onClick={() => acts.send.mutate({ ...sending, mailed: false })}>
          Make a link instead
        </Button>
      </p>
      {link && (
        <label className={formCss.stacked}>
          The link, shown this once
          <Input readOnly value={link} onFocus={(event) => event.target.select()} />
        </label>
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
