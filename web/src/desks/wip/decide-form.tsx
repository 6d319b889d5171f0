import type { ReactNode } from "react";
import { Do } from "../../frame/do";
import { ChoiceField, DayField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
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

interface BarProps {
  /** What it would be decided on, in words. */
  on: string;
  /** Whether all of that is on hold. */
  held?: boolean;
  onAsk: (kind: Kind) => void;
  /** What can be done besides, before the decisions, or in place of them. */
  children?: ReactNode;
  only?: ReactNode;
}

/** The decisions as buttons, for whoever has a mouse in the hand. */
export function DecideBar({ on, held, onAsk, children, only }: BarProps) {
  return (
    <div className={wipCss.decideBar}>
      {only ?? children}
      {!only &&
        decisions.map(({ kind, word, key }) => (
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
  refused: Error | null;
  onDecide: (decision: Decision) => void;
  onClose: () => void;
}

/** Asks what a decision needs: a day, a value, an engagement, and why. */
export function DecideForm({ kind, on, engagements, busy, refused, onDecide, onClose }: Props) {
  const form = useTyping({
    until: "",
    to: (kind === "divide" ? "hours" : "amount") as "hours" | "rate" | "amount",
    value: "",
    stays: false,
    engagementId: 0,
    reason: "",
  });
  const { until, to, value, stays, engagementId, reason } = form.typed;
  const writes = kind === "write" || kind === "divide";
  const decide = () =>
    onDecide({
      kind,
      reason,
      ...(kind === "hold" && until ? { until } : {}),
      ...(writes ? { to, value } : {}),
      ...(kind === "write" ? { stays } : {}),
      ...(kind === "move" ? { engagementId } : {}),
    });
  return (
    <Form
      className={wipCss.decide}
      label={questions[kind]}
      act={{ isPending: busy, error: refused }}
      ok={decisions.find((d) => d.kind === kind)?.word}
      onOk={decide}
      no="Leave it"
      onNo={onClose}
    >
      <p>
        <b>{questions[kind]}</b> <span className="soft">{on}</span>
      </p>
      {kind === "hold" && <DayField of={form} name="until" label="Hold until" any="somebody releases it" focus />}
      {writes && (
        <div className={wipCss.decideValue}>
          <ChoiceField
            of={form}
            name="to"
            label="What it is written to"
            options={[
              { value: "amount", label: "an amount" },
              { value: "hours", label: "hours" },
              ...(kind === "write" ? [{ value: "rate" as const, label: "a rate" }] : []),
            ]}
          />
          <TextField
            of={form}
            name="value"
            label="Value"
            as={to === "rate" ? undefined : to}
            placeholder={{ amount: "390.00", hours: "3.0 or 3:00", rate: "120.00" }[to]}
            focus
          />
        </div>
      )}
      {kind === "write" && (
        <ChoiceField
          of={form}
          name="stays"
          label="What becomes of the rest"
          options={[
            { value: false, label: "the rest is written down" },
            { value: true, label: "the rest stays unbilled" },
          ]}
        />
      )}
      {kind === "move" && (
        <ChoiceField
          of={form}
          name="engagementId"
          label="Move to"
          placeholder="an engagement"
          options={engagements.map((e) => ({ value: e.id, label: e.name }))}
          focus
        />
      )}
      {kind !== "divide" && (
        <TextField
          of={form}
          name="reason"
          label="Why"
          placeholder={kind === "hold" || kind === "move" ? "if somebody will ask" : ""}
          focus={kind === "no_charge" || kind === "write_off"}
        />
      )}
    </Form>
  );
}
