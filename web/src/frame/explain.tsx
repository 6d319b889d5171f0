import { Popover } from "antd";
import { clsx } from "clsx";
import { type ReactNode, useState } from "react";
import type { Step } from "../api/client";
import explainCss from "./explain.module.css";

interface ExplainedProps {
  step: Step;
  children: ReactNode;
  /** What the figure is, for those who hear it. */
  label: string;
  /** -1 where a list has its own way to the figure. */
  tabIndex?: number;
}

/** A computed figure: dotted underline, and the steps that made it when it is clicked. */
export function Explained({ step, children, label, tabIndex }: ExplainedProps) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      placement="leftTop"
      content={<Steps of={step} />}
      destroyOnHidden
    >
      <button
        type="button"
        className={clsx("figure", explainCss.explained)}
        data-explain
        tabIndex={tabIndex}
        aria-expanded={open}
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => event.key === "Escape" && setOpen(false)}
      >
        {children}
        <span className="unseen">, {label}: how it was made</span>
      </button>
    </Popover>
  );
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
