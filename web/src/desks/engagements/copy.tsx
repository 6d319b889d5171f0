import { Button } from "antd";
import { useNavigate } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import { DayField, RecordField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { useOption, useRecordActs } from "../../frame/record/use-record";

/** Makes an engagement like this one, for the same or another client; or keeps it as a template. */
export function CopyEngagement({
  engagement,
  onCancel,
}: {
  engagement: Schema["EngagementOverview"];
  onCancel: () => void;
}) {
  const { today } = useSession();
  const form = useTyping({ client: "", name: engagement.name, opened: engagement.again || today });
  const navigate = useNavigate();
  const templates = useRecordActs("engagement-templates");
  const copy = useAct((body: Schema["Copied"]) => api.post("/api/engagements/copies", { body }), {
    records: true,
    done: (made) => {
      navigate(`/engagements/${made.id}`);
      onCancel();
    },
  });
  const { client, ...typed } = form.typed;
  const chosen = useOption("clients", client);
  const clientId = chosen?.id ?? 0;
  return (
    <Form
      inPlace
      label="Make another like it"
      title={`Another like ${engagement.name}`}
      act={{ ...copy, error: copy.error ?? templates.add.error }}
      ok="Make it"
      // Never for another client than the one that was chosen and is still read.
      onOk={() => (!client || chosen) && copy.mutate({ ...typed, fromId: engagement.id, clientId })}
      more={
        <Button
          onClick={() =>
            templates.add.mutate({ name: typed.name, engagement: engagement.code }, { onSuccess: onCancel })
          }
        >
          Keep as a template
        </Button>
      }
      no="Cancel"
      onNo={onCancel}
    >
      {engagement.again && <p>It is made again each period; the next one is opened on {long(engagement.again)}.</p>}
      <p className="soft">Its billing, phases, tasks and budgets come along; what was done on them does not.</p>
      <TextField of={form} name="name" label="Name" />
      <RecordField of={form} name="client" label="Client" kind="clients" hint={`empty: ${engagement.client}`} />
      <DayField of={form} name="opened" label="Opened" />
    </Form>
  );
}
