import { Button, Checkbox } from "antd";
import { useState } from "react";
import formCss from "../../frame/form/form.module.css";
import { ChooseRecord } from "../../frame/record/choose";
import { useOptions } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { type Proposal, useProposalActs } from "./use-proposal";

/** A new proposal from an old one; prices that the catalogue has changed are shown. */
export function CopyPane({ proposal, onMade }: { proposal: Proposal; onMade: (id: number) => void }) {
  const [reread, setReread] = useState(true);
  const [replaces, setReplaces] = useState(["sent", "seen", "expired", "declined"].includes(proposal.state));
  const [client, setClient] = useState("");
  const clients = useOptions("clients");
  const acts = useProposalActs(proposal.id);
  const made = acts.copy.data;
  const clientId = clients.data?.find((option) => option.key === client)?.id ?? 0;
  return (
    <section aria-label="New from this">
      <h2>New from {proposal.number}</h2>
      <label className={formCss.stacked}>
        For another client than {proposal.client}
        <ChooseRecord kind="clients" label="Client" value={client} underlined onChoose={setClient} />
      </label>
      <p>
        <Checkbox checked={reread} onChange={(event) => setReread(event.target.checked)}>
          with the catalogue's prices of today
        </Checkbox>
      </p>
      {!client && proposal.state !== "accepted" && (
        <p>
          <Checkbox checked={replaces} onChange={(event) => setReplaces(event.target.checked)}>
            takes the place of {proposal.number} when it is sent
          </Checkbox>
        </p>
      )}
      <Refused by={acts.copy.error} />
      {!made && (
        <Button
          type="primary"
          loading={acts.copy.isPending}
          onClick={() =>
            acts.copy.mutate(
              { clientId, reread, replaces: replaces && !client && proposal.state !== "accepted" },
              { onSuccess: (done) => done.differences.length === 0 && onMade(done.id) },
            )
          }
        >
          Make it
        </Button>
      )}
      {made && made.differences.length > 0 && (
        <>
          <h2 className="sub">Prices that are different now</h2>
          <table className={tableCss.plain}>
            <tbody>
              {made.differences.map((difference) => (
                <tr key={difference.line}>
                  <th scope="row">{difference.line}</th>
                  <td className="number soft">{difference.was}</td>
                  <td className="number">{difference.is}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Button type="primary" onClick={() => onMade(made.id)}>
            Open it
          </Button>
        </>
      )}
    </section>
  );
}
