import { Button } from "antd";
import { Fact, Facts } from "../../frame/facts";
import { CheckField, RecordField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { useOption } from "../../frame/record/use-record";
import { type Proposal, useProposalActs } from "./use-proposal";

/** A new proposal from an old one; prices that the catalogue has changed are shown. */
export function CopyPane({ proposal, onMade }: { proposal: Proposal; onMade: (id: number) => void }) {
  const open = proposal.state !== "accepted";
  const form = useTyping({
    client: "",
    reread: true,
    replaces: ["sent", "seen", "expired", "declined"].includes(proposal.state),
  });
  const acts = useProposalActs(proposal.id);
  const made = acts.copy.data;
  const { client, reread, replaces } = form.typed;
  const chosen = useOption("clients", client);
  const clientId = chosen?.id ?? 0;
  const title = `New from ${proposal.number}`;
  if (made && made.differences.length > 0)
    return (
      <section aria-label="New from this">
        <h2>{title}</h2>
        <h2 className="sub">Prices that are different now</h2>
        <Facts>
          {made.differences.map(({ line, was, is }) => (
            <Fact key={line} of={line}>
              <span className="soft">{was}</span> {is}
            </Fact>
          ))}
        </Facts>
        <Button type="primary" onClick={() => onMade(made.id)}>
          Open it
        </Button>
      </section>
    );
  return (
    <Form
      label="New from this"
      title={title}
      act={acts.copy}
      ok="Make it"
      // Never for another client than the one that was chosen and is still read.
      onOk={() =>
        (!client || chosen) &&
        acts.copy.mutate(
          { clientId, reread, replaces: replaces && !client && open },
          { onSuccess: (done) => done.differences.length === 0 && onMade(done.id) },
        )
      }
    >
      <RecordField of={form} name="client" label={`For another client than ${proposal.client}`} kind="clients" />
      <p>
        <CheckField of={form} name="reread" label="with the catalogue's prices of today" />
      </p>
      {!client && open && (
        <p>
          <CheckField of={form} name="replaces" label={`takes the place of ${proposal.number} when it is sent`} />
        </p>
      )}
    </Form>
  );
}
