import { Dropdown } from "antd";
import { useState } from "react";
import type { MenuOf } from "./menu";

/** A menu, open from the start: it has just been asked for. */
export default function OpenMenu({ items, onPick, children }: MenuOf) {
  const [open, setOpen] = useState(true);
  return (
    <Dropdown
      trigger={["click"]}
      open={open}
      onOpenChange={setOpen}
      autoFocus
      menu={{
        items,
        onClick: ({ key }) => {
          setOpen(false);
          onPick?.(key);
        },
      }}
    >
      {children}
    </Dropdown>
  );
}
