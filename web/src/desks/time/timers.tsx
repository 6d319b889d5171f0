import { Input, Popconfirm } from "antd";
import { clsx } from "clsx";
import { useEffect, useState } from "react";
import type { Schema } from "../../api/client";
import { Do } from "../../frame/do";
import { useMoneyText } from "../../frame/figure";
import { inField } from "../../frame/keys";
import { Refused } from "../../frame/state";
import recordingCss from "./recording.module.css";
import { type Timer, useSecondsSince, useTimerActs, useTimers } from "./use-timers";
import { WorkFields, type WorkOf } from "./work-fields";

const nothing: WorkOf = { treatment: "billable" };

/** Seconds as h:mm, counted down to the minute that is over. */
const counted = (seconds: number) =>
  `${Math.floor(seconds / 3600)}:${String(Math.floor(seconds / 60) % 60).padStart(2, "0")}`;

/** The timers of who is signed in: one runs, the others wait; and the start of another. */
export function Timers({ choices, last }: { choices?: Schema["Choices"]; last?: WorkOf }) {
  const timers = useTimers();
  const acts = useTimerActs();
  const [starting, setStarting] = useState(false);
  const since = useSecondsSince(timers.dataUpdatedAt);
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.key !== "t" || event.ctrlKey || event.altKey || event.metaKey || inField(event.target)) return;
      setStarting(true);
      event.preventDefault();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, []);
  return (
    <section className={recordingCss.timers} aria-label="Timers">
      {(timers.data ?? []).map((timer) => (
        <OneTimer key={timer.id} timer={timer} since={timer.running ? since : 0} acts={acts} />
      ))}
      {!starting && (
        <button
          type="button"
          className={clsx(recordingCss.timer, recordingCss.timerNew)}
          onClick={() => setStarting(true)}
        >
          Start a timer <kbd>T</kbd>
        </button>
      )}
      {starting && (
        <NewTimer
          choices={choices}
          last={last}
          onStart={async (of, text) => {
            if (!of.engagementId || !of.serviceId) return;
            await acts.start.mutateAsync({
              engagementId: of.engagementId,
              serviceId: of.serviceId,
              treatment: of.treatment,
              text,
            });
            setStarting(false);
          }}
          onClose={() => setStarting(false)}
        />
      )}
      <Refused by={acts.problem} />
    </section>
  );
}

interface OneProps {
  timer: Timer;
  since: number;
  acts: ReturnType<typeof useTimerActs>;
}

function OneTimer({ timer, since, acts }: OneProps) {
  const money = useMoneyText();
  const name = `${timer.engagement}, ${timer.text || timer.service}`;
  return (
    <div className={timer.running ? clsx("running", recordingCss.timer) : recordingCss.timer}>
      <b className="figure" role="timer" aria-label={`Counted on ${name}`}>
        {counted(timer.seconds + since)}
      </b>
      <span className={recordingCss.timerName} title={`${timer.client} › ${name}`}>
        {name}
      </span>
      <span className="soft figure">{timer.running ? timer.value && money(timer.value) : "waiting"}</span>
      {timer.running ? (
        <Do aria-label={`Pause ${name}`} onClick={() => acts.pause.mutate(timer.id)}>
          Pause
        </Do>
      ) : (
        <Do aria-label={`Go on with ${name}`} onClick={() => acts.resume.mutate(timer.id)}>
          Go on
        </Do>
      )}
      <Do aria-label={`Stop ${name}`} onClick={() => acts.stop.mutate(timer.id)}>
        Stop
      </Do>
      <Popconfirm
        title={`Throw away ${counted(timer.seconds + since)} on ${timer.engagement}?`}
        okText="Throw it away"
        cancelText="Keep it"
        onConfirm={() => acts.discard.mutate(timer.id)}
      >
        <button type="button" className="link soft" aria-label={`Discard the timer on ${name}`}>
          ×
        </button>
      </Popconfirm>
    </div>
  );
}

interface NewProps {
  choices?: Schema["Choices"];
  last?: WorkOf;
  onStart: (of: WorkOf, text: string) => void;
  onClose: () => void;
}

function NewTimer({ choices, last, onStart, onClose }: NewProps) {
  const [of, setOf] = useState<WorkOf>(last ?? nothing);
  const [text, setText] = useState("");
  return (
    <div className={clsx(recordingCss.timer, recordingCss.timerForm)}>
      <WorkFields choices={choices} of={of} onChange={setOf} autoFocus />
      <Input
        aria-label="What the timer is for"
        placeholder="Text on the invoice"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onPressEnter={() => onStart(of, text)}
      />
      <Do disabled={!of.engagementId || !of.serviceId} onClick={() => onStart(of, text)}>
        Start
      </Do>
      <button type="button" className="link soft" onClick={onClose}>
        Cancel
      </button>
    </div>
  );
}
