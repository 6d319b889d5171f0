import type { Schema } from "../../api/client";
import { SaidAnyDate, SaidChoice, SaidSeveral, SaidText, Sentence } from "../../frame/sentence";
import { useWhose } from "./use-week";
import type { Sought } from "./use-work";

const states = [
  { value: "unbilled", label: "unbilled" },
  { value: "on_draft", label: "on a draft" },
  { value: "to_bill", label: "billable, not billed" },
  { value: "in_fee", label: "in a fee or over a cap" },
  { value: "billed", label: "billed" },
  { value: "not_billable", label: "not billable" },
  { value: "on_hold", label: "on hold" },
];
const statesOfTime = [
  ...states,
  { value: "without_rate", label: "without a rate" },
  { value: "estimated", label: "with an estimate" },
  { value: "open", label: "not submitted" },
  { value: "submitted", label: "submitted" },
  { value: "approved", label: "approved" },
];

const numbersIn = (list: string) => (list ? list.split(",").map(Number) : []);

interface Props {
  sought: Sought;
  by: string;
  choices?: Schema["Choices"];
  onGo: (change: Partial<Record<keyof Sought | "by", string>>) => void;
}

/** The selector of all lists of time and expenses, as a sentence. */
export function WorkSentence({ sought, by, choices, onGo }: Props) {
  const expenses = sought.of === "expenses";
  const kinds = (expenses ? choices?.categories : choices?.services) ?? [];
  const { clients, engagements } = useWhose(numbersIn(sought.clients), numbersIn(sought.engagements));
  const named = (list: { id: number; name: string }[]) => list.map((k) => ({ value: String(k.id), label: k.name }));
  const part = (name: "people" | "clients" | "engagements" | "kinds" | "states") => ({
    value: sought[name],
    onChange: (value: string) => onGo({ [name]: value }),
  });
  return (
    <Sentence>
      {expenses ? "Expenses" : "Time"} of{" "}
      <SaidSeveral label="People" all="everybody" choices={named(choices?.people ?? [])} {...part("people")} /> for{" "}
      <SaidSeveral
        label="Clients"
        all="all clients"
        choices={named(clients.data)}
        search={clients.search}
        {...part("clients")}
      />
      ,{" "}
      <SaidSeveral
        label="Engagements"
        all="all engagements"
        choices={engagements.data.map((e) => ({ value: String(e.engagementId), label: e.engagement }))}
        search={engagements.search}
        {...part("engagements")}
      />
      ,{" "}
      <SaidSeveral
        label={expenses ? "Categories" : "Services"}
        all={expenses ? "all categories" : "all services"}
        choices={named(kinds)}
        {...part("kinds")}
      />
      , <SaidSeveral label="State" all="in any state" choices={expenses ? states : statesOfTime} {...part("states")} />,
      from <SaidAnyDate label="From" any="the beginning" value={sought.from} onChange={(from) => onGo({ from })} /> to{" "}
      <SaidAnyDate label="To" any="the end" value={sought.to} onChange={(to) => onGo({ to })} />, with{" "}
      <SaidText label="Words in the text" any="any text" value={sought.text} onChange={(text) => onGo({ text })} />,
      shown as{" "}
      <SaidChoice
        label="Shown as"
        value={by}
        choices={[
          { value: "", label: "a list" },
          { value: "client", label: "sums by client" },
          { value: "person", label: "sums by person" },
        ]}
        onChange={(to) => onGo({ by: to })}
      />
    </Sentence>
  );
}
