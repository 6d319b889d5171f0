import { Button } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";
import clientCss from "../../client-pages/client.module.css";
import { instant } from "../../frame/days";
import { Do } from "../../frame/do";
import { Copy } from "../../frame/form/copy";
import { ChoiceField, TextField } from "../../frame/form/fields";
import { Field, Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { Table } from "../../frame/list/table";
import { useMayChange } from "../../frame/record/sheet";
import { useOptions, useRecordActs } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import pricingCss from "../pricing/pricing.module.css";

/** What a client was asked through a link; answers are offered to the fields to which they belong. */
export function Questionnaires({ client }: { client: { id: number } }) {
  const [asking, setAsking] = useState(false);
  const mayAsk = useMayChange("client-steps");
  const asked = useRead("/api/clients/{id}/questionnaires", { path: { id: client.id } });
  const rows = asked.data ?? [];
  if (rows.length === 0 && !mayAsk) return null;
  return (
    <section aria-label="Questionnaires">
      <h2 className="sub">Questionnaires {mayAsk && !asking && <Do onClick={() => setAsking(true)}>Send one</Do>}</h2>
      {asking && <AskClient client={client} onDone={() => setAsking(false)} />}
      {rows.map((row) => (
        <div key={row.id}>
          <p>
            {row.name}, <span className="soft">sent {instant(row.sentAt)}</span>{" "}
            {row.answeredAt ? `answered ${instant(row.answeredAt)}` : <span className="soft">not answered yet</span>}
          </p>
          {row.answeredAt && <Answers row={row} clientId={client.id} />}
        </div>
      ))}
    </section>
  );
}

function Answers({ row, clientId }: { row: Schema["AskedQuestions"]; clientId: number }) {
  const acts = useRecordActs("clients");
  const mayChange = useMayChange("clients");
  const take = useAct(async ({ field, value }: { field: string; value: string }) => {
    const sheet = await api.get("/api/records/{kind}/{id}", { path: { kind: "clients", id: clientId } });
    await acts.change.mutateAsync({ records: [{ id: clientId, version: sheet.version }], field, value });
  });
  return (
    <>
      <Refused by={take.error} />
      <Table
        headless
        rows={row.answers}
        id={(answer) => answer.question}
        columns={[
          { name: "Question", names: "light", tone: () => "soft", cell: (answer) => answer.question },
          {
            name: "Answer",
            tone: () => clientCss.offerText,
            cell: (answer) => answer.answer || <span className="soft">no answer</span>,
          },
          {
            name: "Take",
            whole: true,
            cell: (answer) =>
              answer.label &&
              answer.answer &&
              (answer.answer === answer.now ? (
                <span className="soft">stands in {answer.label.toLowerCase()}</span>
              ) : (
                mayChange && (
                  <Button
                    size="small"
                    loading={take.isPending}
                    onClick={() => take.mutate({ field: answer.field, value: answer.answer })}
                  >
                    Take as {answer.label.toLowerCase()}
                  </Button>
                )
              )),
          },
        ]}
      />
    </>
  );
}

function AskClient({ client, onDone }: { client: { id: number }; onDone: () => void }) {
  const options = useOptions("questionnaires");
  const form = useTyping({ questionnaireId: 0, name: "", mail: "" });
  const send = useAct((body: Schema["Asking"]) => api.post("/api/questionnaires/sendings", { body }), {
    done: (sent) => {
      if (!sent.link) onDone();
    },
  });
  const typed = { ...form.typed, questionnaireId: form.typed.questionnaireId || options.data?.[0]?.id || 0 };
  const body = { ...typed, clientId: client.id };
  return (
    <Form
      inPlace
      className={pricingCss.newProposal}
      label="Send a questionnaire"
      act={send}
      ok="Mail the questions"
      onOk={() => send.mutate(body)}
      more={
        <Button loading={send.isPending} onClick={() => send.mutate({ ...body, mail: "" })}>
          Make a link instead
        </Button>
      }
      no="Close"
      onNo={onDone}
    >
      <div className={formCss.across}>
        <ChoiceField
          of={{ ...form, typed }}
          name="questionnaireId"
          label="Questionnaire"
          options={(options.data ?? []).map((o) => ({ value: o.id, label: o.title }))}
        />
        <TextField of={form} name="name" label="Who answers" />
        <TextField of={form} name="mail" label="Their mail" />
      </div>
      {send.data?.link && (
        <Field label="The link, shown this once">
          <Copy label="The link" value={send.data.link} />
        </Field>
      )}
    </Form>
  );
}
