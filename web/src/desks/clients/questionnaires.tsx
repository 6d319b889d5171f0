import { Button, Input, Select } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";
import clientCss from "../../client-pages/client.module.css";
import { instant } from "../../frame/days";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";
import { useMayChange } from "../../frame/record/sheet";
import { useOptions, useRecordActs } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
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
      <table className={tableCss.grid}>
        <tbody>
          {row.answers.map((answer) => (
            <tr key={answer.question}>
              <th scope="row" className="light soft">
                {answer.question}
              </th>
              <td className={clientCss.offerText}>{answer.answer || <span className="soft">no answer</span>}</td>
              <td className="nowrap">
                {answer.label && answer.answer && answer.answer !== answer.now && mayChange && (
                  <Button
                    size="small"
                    loading={take.isPending}
                    onClick={() => take.mutate({ field: answer.field, value: answer.answer })}
                  >
                    Take as {answer.label.toLowerCase()}
                  </Button>
                )}
                {answer.label && answer.answer && answer.answer === answer.now && (
                  <span className="soft">stands in {answer.label.toLowerCase()}</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function AskClient({ client, onDone }: { client: { id: number }; onDone: () => void }) {
  const options = useOptions("questionnaires");
  const [chosen, setChosen] = useState<number>();
  const [name, setName] = useState("");
  const [mail, setMail] = useState("");
  const send = useAct((body: Schema["Asking"]) => api.post("/api/questionnaires/sendings", { body }), {
    done: (sent) => {
      if (!sent.link) onDone();
    },
  });
  const questionnaireId = chosen ?? options.data?.[0]?.id ?? 0;
  const body = { clientId: client.id, questionnaireId, name, mail };
  return (
    <div className={formCss.inPlace}>
      <div className={pricingCss.newProposalFields}>
        <label>
          Questionnaire
          <Select
            variant="underlined"
            aria-label="Questionnaire"
            value={questionnaireId || undefined}
            options={(options.data ?? []).map((o) => ({ value: o.id, label: o.title, title: o.title }))}
            onChange={setChosen}
          />
        </label>
        <label>
          Who answers
          <Input variant="underlined" value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        <label>
          Their mail
          <Input variant="underlined" value={mail} onChange={(event) => setMail(event.target.value)} />
        </label>
      </div>
      <Refused by={send.error} />
      {send.data?.link && (
        <label className={formCss.stacked}>
          The link, shown this once
          <Input readOnly value={send.data.link} onFocus={(event) => event.target.select()} />
        </label>
      )}
      <p className={formCss.buttons}>
        <Button type="primary" loading={send.isPending} onClick={() => send.mutate(body)}>
          Mail the questions
        </Button>
        <Button loading={send.isPending} onClick={() => send.mutate({ ...body, mail: "" })}>
          Make a link instead
        </Button>
        <Button onClick={onDone}>Close</Button>
      </p>
    </div>
  );
}
