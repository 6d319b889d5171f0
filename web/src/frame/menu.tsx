import type { MenuProps } from "antd";
import { cloneElement, lazy, type ReactElement, Suspense, useState } from "react";

export interface MenuOf {
  items: MenuProps["items"];
  onPick?: (key: string) => void;
  /** The button that opens it. */
  children: ReactElement<{ onClick?: () => void; onPointerEnter?: () => void; "aria-haspopup"?: "menu" }>;
}

const load = () => import("./menu-open");
const OpenMenu = lazy(load);

/** A button with a menu, which is loaded when it is asked for. */
export function Menu({ children, ...menu }: MenuOf) {
  const [asked, setAsked] = useState(false);
  const button = (more: object) => cloneElement(children, { "aria-haspopup": "menu", ...more });
  if (!asked) return button({ onClick: () => setAsked(true), onPointerEnter: load });
  return (
    <Suspense fallback={button({})}>
      <OpenMenu {...menu}>{button({})}</OpenMenu>
    </Suspense>
  );
}
