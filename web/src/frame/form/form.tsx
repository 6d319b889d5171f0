import { Button } from "antd";
import { clsx } from "clsx";
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Problem } from "../../api/client";
import { Refused } from "../state";
import formCss from "./form.module.css";

/** The act that a form is for: whether it is under way, and what was refused in which field. */
interface Act {
  isPending: boolean;
  error: Error | null;
  field?: string;
}

interface Around {
  act?: Pick<Act, "error" | "field">;
  /** Told which fields there are. */
  claim?: (name: string, there: boolean) => void;
  /** Before the name of a field, in its id. */
  id?: string;
  readOnly?: boolean;
  look?: "outlined" | "underlined";
  size?: "large";
  onEnter?: () => void;
}

const FormContext = createContext<Around>({});

/** Which fields there are: a refusal of another stands with the form. */
function useClaims() {
  const [claimed, setClaimed] = useState<string[]>([]);
  const claim = useCallback(
    (name: string, there: boolean) =>
      setClaimed((others) => (there ? [...others, name] : others.filter((other) => other !== name))),
    [],
  );
  return { claimed, claim };
}

/** What the form says of its fields. */
export const useAround = () => useContext(FormContext);

interface Props {
  /** What it is, for who can't see it. */
  label: string;
  title?: ReactNode;
  act: Act;
  /** What is done, as its button says it. */
  ok: ReactNode;
  onOk: () => void;
  /** Whether enough is typed. */
  ready?: boolean;
  danger?: boolean;
  no?: string;
  onNo?: () => void;
  /** Other ways on, beside the buttons. */
  more?: ReactNode;
  /** It stands in a desk, not in a folio. */
  inPlace?: boolean;
  /** For the pages of clients, who have phones. */
  size?: "large";
  className?: string;
  children: ReactNode;
}

/** Gives the focus back to where it was when a form goes that has it, so that the keys of a list go on. */
function useFocusBack() {
  const box = useRef<HTMLFormElement>(null);
  const [before] = useState(() => document.activeElement);
  useLayoutEffect(
    () => () => {
      const inside = box.current?.contains(document.activeElement);
      if (inside && before instanceof HTMLElement && before.isConnected) before.focus({ preventScroll: true });
    },
    [before],
  );
  return box;
}

/**
 * The one form: Enter does it, Esc leaves it, a refusal stands at its field or above the buttons, and what was typed
 * stays.
 */
export function Form(props: Props) {
  const {
    label,
    title,
    act,
    ok,
    onOk,
    ready = true,
    danger,
    no = "Not now",
    onNo,
    more,
    inPlace,
    size,
    className,
  } = props;
  const { claimed, claim } = useClaims();
  const box = useFocusBack();
  const context = useMemo(() => ({ act, claim, size }), [act, claim, size]);
  return (
    <form
      ref={box}
      className={clsx(size ? formCss.large : formCss.form, inPlace && formCss.inPlace, className)}
      aria-label={label}
      onSubmit={(event) => {
        event.preventDefault();
        if (ready && !act.isPending) onOk();
      }}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || !onNo) return;
        event.stopPropagation();
        onNo();
      }}
    >
      {title && <h2>{title}</h2>}
      <FormContext value={context}>{props.children}</FormContext>
      {!claimed.includes(act.field ?? "") && <Refused by={act.error} />}
      <p className={formCss.acts}>
        <Button type="primary" size={size} htmlType="submit" danger={danger} disabled={!ready} loading={act.isPending}>
          {ok}
        </Button>
        {more}
        {onNo && <Button onClick={onNo}>{no}</Button>}
      </p>
    </form>
  );
}

interface GroupProps extends Omit<Around, "act" | "claim" | "look" | "size"> {
  /** What was refused of what they say. */
  problem?: Problem | null;
  className?: string;
  children: ReactNode;
}

/** Fields that say what is kept by another act than a form's: of an entry, a purchase, a line. */
export function FieldGroup({ problem, id, readOnly, onEnter, className, children }: GroupProps) {
  const { claimed, claim } = useClaims();
  const act = { error: problem ?? null, field: problem?.field };
  return (
    <div className={clsx(formCss.fields, className)}>
      <FormContext value={{ act, claim, id, readOnly, onEnter, look: "underlined" }}>
        {problem && !claimed.includes(problem.field ?? "") && (
          <div className={formCss.wide}>
            <Refused by={problem} />
          </div>
        )}
        {children}
      </FormContext>
    </div>
  );
}

interface FieldProps {
  label: ReactNode;
  /** As the act names it in a refusal. */
  name?: string;
  hint?: ReactNode;
  wide?: boolean;
  className?: string;
  children: ReactNode;
}

/** A field with its label above it, and under it what was refused or is worth knowing. */
export function Field({ label, name = "", hint, wide, className, children }: FieldProps) {
  const { act, claim } = useAround();
  useEffect(() => {
    if (!name) return;
    claim?.(name, true);
    return () => claim?.(name, false);
  }, [claim, name]);
  const refused = name !== "" && act?.field === name ? act.error : null;
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is what it wraps
    <label className={clsx(wide && formCss.wide, className) || undefined}>
      {label}
      {children}
      {refused ? <Refused by={refused} inline /> : hint && <span className={formCss.hint}>{hint}</span>}
    </label>
  );
}
