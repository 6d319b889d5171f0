import { Popover } from "antd";
import { clsx } from "clsx";
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";
import type { Step } from "../api/client";
import explainCss from "./explain.module.css";
import { Refused } from "./state";

/** Around the rows of a list: its keys lead to their figures, so that Tab passes them by. */
export const RowsContext = createContext(false);

/** Whether Tab stops at what stands here. */
export const useTabStop = () => (useContext(RowsContext) ? -1 : 0);

interface ExplainedProps {
  /** Or how it is asked for, when it is opened. */
  step: Step | (() => Promise<Step>);
  children: ReactNode;
  /** What the figure is, for those who hear it. */
  label: string;
}

/** A computed figure: dotted underline, and the steps that made it when it is clicked. */
export function Explained({ step, children, label }: ExplainedProps) {
  const [open, setOpen] = useState(false);
  const stop = useTabStop();
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      placement="leftTop"
      content={typeof step === "function" ? <AskedSteps ask={step} /> : <Steps of={step} />}
      destroyOnHidden
    >
      <button
        type="button"
        className={clsx("figure", explainCss.explained)}
        data-explain
        tabIndex={stop}
        aria-expanded={open}
        aria-description={`${label}: how it was made`}
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => event.key === "Escape" && setOpen(false)}
      >
        {children}
      </button>
    </Popover>
  );
}

function AskedSteps({ ask }: { ask: () => Promise<Step> }) {
  const [answer, setAnswer] = useState<Step | Error>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is asked once, when it is opened
  useEffect(() => {
    ask().then(setAnswer, setAnswer);
  }, []);
  if (answer === undefined) return null;
  return answer instanceof Error ? <Refused by={answer} /> : <Steps of={answer} />;
}

/** The steps down to the sources; those under a step open when there are many. */
export function Steps({ of }: { of: Step }) {
  return (
    <section className={explainCss.steps} aria-label="How it was made">
      {(of.steps ?? []).map((step, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: steps never move
        <StepRow key={index} step={step} />
      ))}
      <div className={clsx(explainCss.step, explainCss.stepResult)}>
        <span>
          {of.label}
          {of.detail && <span className={explainCss.stepDetail}>{of.detail}</span>}
        </span>
        <span className="figure">{of.figure}</span>
      </div>
    </section>
  );
}

const many = 6;

function StepRow({ step }: { step: Step }) {
  const inner = step.steps ?? [];
  const row = (
    <div className={explainCss.step}>
      <span>
        {step.label}
        {step.detail && <span className={explainCss.stepDetail}>{step.detail}</span>}
      </span>
      <span className="figure">{step.figure}</span>
    </div>
  );
  const children = (
    <div className={explainCss.stepInner}>
      {inner.map((child, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: steps never move
        <StepRow key={index} step={child} />
      ))}
    </div>
  );
  if (inner.length === 0) return row;
  if (inner.length < many && !inner.some((child) => (child.steps ?? []).length > 0)) {
    return (
      <>
        {row}
        {children}
      </>
    );
  }
  return (
    <details>
      <summary>{row}</summary>
      {children}
    </details>
  );
}

/** Opens the explanation inside an element, as the = key does. */
export function openExplanation(within: Element | null | undefined) {
  within?.querySelector<HTMLButtonElement>("[data-explain]")?.click();
}
