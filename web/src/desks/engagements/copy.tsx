import { Button, Input } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import formCss from "../../frame/form/form.module.css";
import { ChooseRecord } from "../../frame/record/choose";
import { useOptions, useRecordActs } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";

/** Makes an engagement like this one, for the same or another client; or keeps it as a template. */
export function CopyEngagement({
  engagement,
  onCancel,
}: {
  engagement: Schema["EngagementOverview"];
  onCancel: () => void;
}) {
  const { today } = useSession();
  const clients = useOptions("clients");
  const [client, setClient] = useState("");
  const [name, setName] = useState(engagement.name);
  const [opened, setOpened] = useState(engagement.again || today);
  const navigate = useNavigate();
  const templates = useRecordActs("engagement-templates");
  const copy = useAct((body: Schema["Copied"]) => api.post("/api/engagements/copies", { body }), {
    records: true,
    done: (made) => {
      navigate(`/engagements/${made.id}`);
      onCancel();
    },
  });
  return (
    <form
      className={clsx(formCss.inPlace, formCss.newRecord)}
      aria-label="Make another like it"
      onSubmit={(event) => {
        event.preventDefault();
        const clientId = clients.data?.find((c) => c.key === client)?.id ?? 0;
        copy.mutate({ fromId: engagement.id, clientId, name, opened });
      }}
    >
      <h2>Another like {engagement.name}</h2>
      {engagement.again && <p>It is made again each period; the next one is opened on {long(engagement.again)}.</p>}
      <p className="soft">Its billing, phases, tasks and budgets come along; what was done on them does not.</p>
      <label htmlFor="copy-name">
        Name
        <Input id="copy-name" value={name} onChange={(event) => setName(event.target.value)} />
      </label>
      <label htmlFor="copy-client">
        Client
        <ChooseRecord id="copy-client" kind="clients" label="Client" value={client} onChoose={setClient} />
        <span className={formCss.hint}>empty: {engagement.client}</span>
      </label>
      <label htmlFor="copy-opened">
        Opened
        <Input id="copy-opened" value={opened} onChange={(event) => setOpened(event.target.value)} />
      </label>
      <Refused by={copy.error ?? templates.add.error} />
      <p className={formCss.newActs}>
        <Button type="primary" htmlType="submit" loading={copy.isPending}>
          Make it
        </Button>
        <Button onClick={() => templates.add.mutate({ name, engagement: engagement.code }, { onSuccess: onCancel })}>
          Keep as a template
        </Button>
        <Button type="text" onClick={onCancel}>
          Cancel
        </Button>
      </p>
    </form>
  );
}
