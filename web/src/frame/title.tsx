import { type ReactNode, useEffect, useRef } from "react";
import deskCss from "./desk.module.css";

interface Props {
  children: ReactNode;
  /** Other looks at the same, beside it. */
  views?: ReactNode;
  /** The name of the page, where the heading is a field. */
  name?: string;
  /** Whose page it is. */
  of?: string;
  className?: string;
}

/** What a desk is: its first heading, and the name of the page. */
export function Title({ children, views, name, of = "Dorvet", className }: Props) {
  const words = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    document.title = `${name ?? words.current?.textContent} · ${of}`;
  });
  return (
    <div className={deskCss.titleLine}>
      <h1 ref={words} className={className}>
        {children}
      </h1>
      {views}
    </div>
  );
}
