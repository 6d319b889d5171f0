import { type KeyboardEvent, useLayoutEffect, useRef, useState } from "react";
import tiersCss from "./tiers.module.css";

interface Props {
  label: string;
  /** What is edited. */
  typed: string;
  /** What stands there while it is not. */
  shown: string;
  under?: string;
  empty?: string;
  className?: string;
  list?: string;
  locked: boolean;
  fault?: string;
  onTyping?: (text: string) => void;
  onCommit: (text: string) => void;
}

/** To the next field of the row, once what was picked from the list is in it. */
function onwards(from: HTMLInputElement) {
  const row = [...(from.closest("tr")?.querySelectorAll("input") ?? [])];
  const next = row[row.indexOf(from) + 1];
  requestAnimationFrame(() => (next ?? from)[next ? "focus" : "blur"]());
}

/** A field of the grid: reads as a figure, is typed into when it has the focus, and counts when it is left. */
export function GridField(props: Props) {
  const { label, typed, shown, under, empty, className = "", list, locked, fault, onTyping, onCommit } = props;
  const [text, setText] = useState<string>();
  const input = useRef<HTMLInputElement>(null);
  // What stood there when it was entered: while one types, figures around it change.
  const before = useRef(typed);
  const editing = text !== undefined;
  // Before the next key: what is typed at once replaces all of it.
  useLayoutEffect(() => {
    if (editing) input.current?.select();
  }, [editing]);
  if (locked)
    return (
      <span className={`${tiersCss.gridField} ${className}`}>
        {shown}
        {under && <span className={tiersCss.cellUnder}>{under}</span>}
      </span>
    );
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Escape" && text !== before.current) {
      setText(before.current);
      onTyping?.(before.current);
      event.stopPropagation();
    } else if (event.key === "Enter" && list) onwards(event.currentTarget);
  };
  return (
    <span className={`${tiersCss.gridField} ${className}`}>
      <input
        ref={input}
        aria-label={label}
        aria-invalid={fault ? true : undefined}
        title={fault ?? (editing ? undefined : shown)}
        list={editing ? list : undefined}
        data-list={list}
        autoComplete="off"
        spellCheck={false}
        placeholder={empty}
        value={text ?? shown}
        onFocus={() => {
          before.current = typed;
          setText(typed);
        }}
        onChange={(event) => {
          setText(event.target.value);
          onTyping?.(event.target.value);
        }}
        onKeyDown={onKeyDown}
        onBlur={() => {
          if (text !== undefined && text !== before.current) onCommit(text.trim());
          setText(undefined);
        }}
      />
      {under && !editing && <span className={tiersCss.cellUnder}>{under}</span>}
      {fault && (
        <span className={tiersCss.fieldFault} role="alert">
          {fault}
        </span>
      )}
    </span>
  );
}
