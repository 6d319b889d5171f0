import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { RecordField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { useOptions } from "../../frame/record/use-record";

/** Makes an engagement of a client from a template; nothing where there are no templates. */
export function LikeTemplate({ clientId, onMade }: { clientId: number; onMade: (id: number) => void }) {
  const { today } = useSession();
  const templates = useOptions("engagement-templates");
  const form = useTyping({ template: "", name: "" });
  const { template, name } = form.typed;
  const make = useAct((body: Schema["Copied"]) => api.post("/api/engagements/copies", { body }), {
    records: true,
    done: (made) => onMade(made.id),
  });
  if (!templates.data?.length) return null;
  const chosen = templates.data.find((t) => t.key === template);
  return (
    <Form
      label="From a template"
      act={make}
      ok="Make it from the template"
      ready={chosen !== undefined}
      onOk={() => chosen && make.mutate({ templateId: chosen.id, clientId, name: name || chosen.title, opened: today })}
    >
      <h2 className="sub">Or from a template</h2>
      <RecordField of={form} name="template" label="Template" kind="engagement-templates" />
      <TextField of={form} name="name" label="Name" placeholder={chosen?.title} />
    </Form>
  );
}
