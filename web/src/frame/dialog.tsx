import { Button } from "antd";
import { type ReactNode, useId, useLayoutEffect, useRef } from "react";
import { createPortal } from "react-dom";
import dialogCss from "./dialog.module.css";

interface Props {
  title: string;
  /** Only for readers: the dialog begins with a field that says what it is for. */
  untitled?: boolean;
  children: ReactNode;
  /** In pixels. */
  width?: number;
  /** What is done, as the button says it; Enter does it, too. */
  ok?: string;
  /** How it is left. */
  no?: string;
  onOk?: () => void;
  /** Another way to do it, beside the first. */
  also?: { word: string; act: () => void };
  onNo: () => void;
  /** What is done can't be taken back: Enter does not do it. */
  danger?: boolean;
  disabled?: boolean;
  pending?: boolean;
}

/** A question or a small form over the page. The focus stays in it, and goes back to where it was. */
export function Dialog({
  title,
  untitled,
  children,
  width = 460,
  ok,
  no,
  onOk,
  also,
  onNo,
  danger,
  disabled,
  pending,
}: Props) {
  const box = useRef<HTMLDialogElement>(null);
  const first = useRef<HTMLButtonElement>(null);
  const heading = useId();
  useLayoutEffect(() => {
    const dialog = box.current;
    const field = dialog?.querySelector<HTMLElement>("input, textarea");
    dialog?.showModal();
    (field ?? first.current)?.focus();
    return () => dialog?.close(); // while it is still there: this gives the focus back
  }, []);
  return createPortal(
    <dialog
      ref={box}
      className={dialogCss.dialog}
      style={{ width }}
      aria-labelledby={untitled ? undefined : heading}
      aria-label={untitled ? title : undefined}
      onCancel={(event) => {
        event.preventDefault();
        onNo();
      }}
      onMouseDown={(event) => event.target === event.currentTarget && onNo()}
      onKeyDown={(event) => event.stopPropagation()} // nothing behind it hears a key
    >
      <form
        className={dialogCss.inner}
        onSubmit={(event) => {
          event.preventDefault();
          event.stopPropagation(); // a form that it stands in is not sent
          if (!disabled && !pending) onOk?.();
        }}
      >
        {!untitled && <h2 id={heading}>{title}</h2>}
        {children}
        {no && (
          <div className={dialogCss.acts}>
            <Button ref={danger || !ok ? first : undefined} onClick={onNo}>
              {no}
            </Button>
            {also && (
              <Button disabled={disabled || pending} onClick={also.act}>
                {also.word}
              </Button>
            )}
            {ok && (
              <Button
                ref={danger ? undefined : first}
                type="primary"
                htmlType="submit"
                danger={danger}
                disabled={disabled}
                loading={pending}
              >
                {ok}
              </Button>
            )}
          </div>
        )}
      </form>
    </dialog>,
    document.body,
  );
}
