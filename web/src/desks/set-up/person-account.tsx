import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { instant } from "../../frame/days";
import { Do } from "../../frame/do";
import { Copy } from "../../frame/form/copy";
import { Refused } from "../../frame/state";
import setUpCss from "./set-up.module.css";

/** The account of a person: a link with which they choose a password, and help when a device was lost. */
export function PersonAccount({ id }: { id: number }) {
  const path = { path: { id } };
  const invite = useAct(() => api.post("/api/people/{id}/invitation", path));
  const clear = useAct(() => api.delete("/api/people/{id}/second-factor", path));
  const end = useAct(() => api.delete("/api/people/{id}/sessions", path));
  const link = invite.data ? `${window.location.origin}/welcome#${invite.data.secret}` : "";
  const problem = invite.error ?? clear.error ?? end.error;
  return (
    <div className={setUpCss.accountHelp}>
      <Do onClick={() => invite.mutate()}>Make a link to choose a password</Do>
      <Do onClick={() => clear.mutate()}>Remove a lost second factor</Do>
      <Do onClick={() => end.mutate()}>End their sessions</Do>
      {invite.data && (
        <p>
          Give this link to {invite.data.person}; it works once, until {instant(invite.data.expires)}. It is shown only
          now.
          <Copy label="Link" value={link} />
        </p>
      )}
      {clear.isSuccess && <p>No code is asked for any more.</p>}
      {end.isSuccess && <p>They are signed out everywhere, and no browser of theirs is known any more.</p>}
      <Refused by={problem} />
    </div>
  );
}
