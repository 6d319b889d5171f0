import { Button, Input, Select } from "antd";
import { type FormEvent, useState } from "react";
import { Do } from "../../frame/do";
import { DayField } from "../../frame/form/day-field";
import type { Decision } from "./use-wip";
import wipCss from "./wip.module.css";

export type Kind = Decision["kind"];

/** What can be decided, with its key and its word. */
export const decisions: { kind: Kind; key: string; word: string }[] = [
  { kind: "hold", key: "h", word: "Hold" },
  { kind: "write", key: "w", word: "Write down or up" },
  { kind: "no_charge", key: "n", word: "No charge" },
  { kind: "write_off", key: "o", word: "Write off" },
  { kind: "divide", key: "v", word: "Divide" },
  { kind: "move", key: "m", word: "Move" },
];

const questions: Record<Kind, string> = {
  hold: "Hold until",
  release: "Release",
  write: "Write to",
  no_charge: "Put at no charge",
  write_off: "Write off",
  divide: "Divide at",
  move: "Move to",
};

/** The decisions as buttons, for whoever has a mouse in the hand. */
export function DecideBar({ on, held, onAsk }: { on: string; held: boolean; onAsk: (kind: Kind) => void }) {
  return (
    <div className={wipCss.decideBar}>
      {decisions.map(({ kind, word, key }) => (
        <Do key={kind} title={`Key ${key}`} onClick={() => onAsk(kind)}>
          {kind === "hold" && held ? "Release" : word}
        </Do>
      ))}
      <span className="soft">{on}</span>
    </div>
  );
}

interface Props {
  kind: Kind;
  /** What it is decided on, in words. */
  on: string;
  engagements: { id: number; name: string }[];
  busy: boolean;
  refused?: string;
  onDecide: (decision: Decision) => void;
  onClose: () => void;
}

/** Asks what a decision needs: a day, a value, an engagement, and why. */
export function DecideForm({ kind, on, engagements, busy, refused, onDecide, onClose }: Props) {
  const [until, setUntil] = useState("");
  const [to, setTo] = useState<"hours" | "rate" | "amount">(kind === "divide" ? "hours" : "amount");
  const [value, setValue] = useState("");
  const [stays, setStays] = useState(false);
  const [engagementId, setEngagement] = useState(0);
  const [reason, setReason] = useState("");
  const writes = kind === "write" || kind === "divide";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onDecide({
      kind,
      reason,
      ...(kind === "hold" && until ? { until } : {}),
      ...(writes ? { to, value } : {}),
      ...(kind === "write" ? { stays } : {}),
      ...(kind === "move" ? { engagementId } : {}),
    });
  };
  return (
    <form
      className={wipCss.decide}
      aria-label={questions[kind]}
      onSubmit={submit}
      onKeyDown={(event) => {
        if (event.key === "Escape") onClose();
        event.stopPropagation();
      }}
    >
      <p>
        <b>{questions[kind]}</b> <span className="soft">{on}</span>
      </p>
      {kind === "hold" && (
        <DayField autoFocus label="Hold until" any="somebody releases it" value={until} onChange={setUntil} />
      )}
      {writes && (
        <div className={wipCss.decideValue}>
          <Select
            aria-label="What it is written to"
            value={to}
            onChange={setTo}
            popupMatchSelectWidth={false}
            options={[
              { value: "amount", label: "an amount" },
              { value: "hours", label: "hours" },
              ...(kind === "write" ? [{ value: "rate" as const, label: "a rate" }] : []),
            ].map((option) => ({ ...option, title: option.label }))}
          />
          <Input
            autoFocus
            aria-label="Value"
            value={value}
            placeholder={{ amount: "390.00", hours: "3.0 or 3:00", rate: "120.00" }[to]}
            onChange={(event) => setValue(event.target.value)}
          />
        </div>
      )}
      {kind === "write" && (
        <Select
          aria-label="What becomes of the rest"
          value={stays}
          onChange={setStays}
          popupMatchSelectWidth={false}
          options={[
            { value: false, label: "the rest is written down", title: "the rest is written down" },
            { value: true, label: "the rest stays unbilled", title: "the rest stays unbilled" },
          ]}
        />
      )}
      {kind === "move" && (
        <Select
          autoFocus
          showSearch={{ optionFilterProp: "label" }}
          aria-label="Move to"
          placeholder="an engagement"
          value={engagementId || undefined}
          onChange={setEngagement}
          options={engagements.map((e) => ({ value: e.id, label: e.name, title: e.name }))}
        />
      )}
      {kind !== "divide" && (
        <Input
          autoFocus={kind === "no_charge" || kind === "write_off"}
          aria-label="Why"
          placeholder={kind === "hold" || kind === "move" ? "why, if somebody will ask" : "why"}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      )}
      {refused && (
        <p className="refusal" role="alert">
          {refused}
        </p>
      )}
      <div className={wipCss.decideActs}>
        <Button htmlType="submit" type="primary" size="small" loading={busy}>
          {decisions.find((d) => d.kind === kind)?.word}
        </Button>
        <Button size="small" onClick={onClose}>
          Leave it
        </Button>
      </div>
    </form>
  );
}
