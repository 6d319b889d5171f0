import { type KeyboardEvent, useState } from "react";

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

/** A field of the grid: reads as a figure, is typed into when it has the focus, and counts when it is left. */
export function GridField(props: Props) {
  const { label, typed, shown, under, empty, className = "", list, locked, fault, onTyping, onCommit } = props;
  const [text, setText] = useState<string>();
  if (locked)
    return (
      <span className={`grid-field ${className}`}>
        {shown}
        {under && <span className="cell-under">{under}</span>}
      </span>
    );
  const editing = text !== undefined;
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Escape" && text !== typed) {
      setText(typed);
      onTyping?.(typed);
      event.stopPropagation();
    } else if (event.key === "Enter" && list) event.currentTarget.blur();
  };
  return (
    <span className={`grid-field ${className}`}>
      <input
        aria-label={label}
        aria-invalid={fault ? true : undefined}
        title={fault ?? (editing ? undefined : shown)}
        list={editing ? list : undefined}
        data-list={list}
        autoComplete="off"
        spellCheck={false}
        placeholder={empty}
        value={text ?? shown}
        onFocus={(event) => {
          const input = event.currentTarget;
          setText(typed);
          requestAnimationFrame(() => document.activeElement === input && input.select());
        }}
        onChange={(event) => {
          setText(event.target.value);
          onTyping?.(event.target.value);
        }}
        onKeyDown={onKeyDown}
        onBlur={() => {
          if (text !== undefined && text !== typed) onCommit(text.trim());
          setText(undefined);
        }}
      />
      {under && !editing && <span className="cell-under">{under}</span>}
      {fault && (
        <span className="field-fault" role="alert">
          {fault}
        </span>
      )}
    </span>
  );
}
