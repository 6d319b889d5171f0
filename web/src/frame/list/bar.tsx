import { Checkbox, Input, Popover } from "antd";
import type { ReactNode } from "react";
import { Do } from "../do";
import listCss from "./list.module.css";
import type { ListState } from "./use-list";

/** Above a list: what is looked for in it, and which of its columns are shown. */
export function ListBar<R>({ list, children }: { list: ListState<R>; children?: ReactNode }) {
  const { filter, columns, kept, keep } = list;
  const optional = columns.filter((c) => !c.names);
  const shaped = kept.hidden.length > 0 || kept.order || Object.values(kept.widths).some(Boolean);
  const shown = list.source.total;
  return (
    <div className={listCss.listBar}>
      {children && <div className={listCss.barLeft}>{children}</div>}
      {filter && (
        <span className={listCss.listFilter}>
          {filter.sought && !filter.waits && (
            <span className="soft" role="status">
              {list.whole === undefined ? `${shown} found` : `${shown} of ${list.whole}`}
            </span>
          )}
          <Input
            variant="underlined"
            size="small"
            allowClear
            aria-label="Filter the list"
            placeholder="filter"
            value={filter.sought}
            onChange={(event) => filter.setSought(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Escape" && filter.sought) filter.setSought("");
              else if (event.key === "Escape" || event.key === "Enter" || event.key === "ArrowDown")
                event.currentTarget
                  .closest(`.${listCss.listBar}`)
                  ?.parentElement?.querySelector<HTMLElement>(`.${listCss.list}`)
                  ?.focus();
              else return;
              event.preventDefault();
            }}
          />
        </span>
      )}
      <Popover
        trigger="click"
        placement="bottomRight"
        content={
          <div className={listCss.listColumns}>
            {optional.map((c) => (
              <Checkbox
                key={c.name}
                checked={!kept.hidden.includes(c.name)}
                onChange={(event) =>
                  keep({
                    hidden: event.target.checked
                      ? kept.hidden.filter((name) => name !== c.name)
                      : [...kept.hidden, c.name],
                  })
                }
              >
                {c.name}
              </Checkbox>
            ))}
            {shaped && <Do onClick={() => keep({ hidden: [], widths: {}, order: undefined })}>As at first</Do>}
          </div>
        }
      >
        <button type="button" className="link soft">
          Columns
        </button>
      </Popover>
    </div>
  );
}
