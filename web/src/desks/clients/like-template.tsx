import { Button, Input } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useSession } from "../../api/session";
import formCss from "../../frame/form/form.module.css";
import { ChooseRecord } from "../../frame/record/choose";
import { useOptions } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";

/** Makes an engagement of a client from a template; nothing where there are no templates. */
export function LikeTemplate({ clientId, onMade }: { clientId: number; onMade: (id: number) => void }) {
  const { today } = useSession();
  const templates = useOptions("engagement-templates");
  const [template, setTemplate] = useState("");
  const [name, setName] = useState("");
  const make = useAct((body: Schema["Copied"]) => api.post("/api/engagements/copies", { body }), {
    records: true,
    done: (made) => onMade(made.id),
  });
  if (!templates.data?.length) return null;
  const chosen = templates.data.find((t) => t.key === template);
  return (
    <form
      className={formCss.newRecord}
      aria-label="From a template"
      onSubmit={(event) => {
        event.preventDefault();
        if (chosen) make.mutate({ templateId: chosen.id, clientId, name: name || chosen.title, opened: today });
      }}
    >
      <h2 className="sub">Or from a template</h2>
      <label htmlFor="template">
        Template
        <ChooseRecord
          id="template"
          kind="engagement-templates"
          label="Template"
          value={template}
          onChoose={setTemplate}
        />
      </label>
      <label htmlFor="template-name">
        Name
        <Input
          id="template-name"
          value={name}
          placeholder={chosen?.title}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <Refused by={make.error} />
      <p className={formCss.newActs}>
        <Button htmlType="submit" disabled={!chosen} loading={make.isPending}>
          Make it from the template
        </Button>
      </p>
    </form>
  );
}
