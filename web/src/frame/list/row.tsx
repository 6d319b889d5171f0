import { Checkbox } from "antd";
import tableCss from "../table.module.css";
import { Cell } from "./cell";
import type { ListProps } from "./list";
import listCss from "./list.module.css";
import type { Column } from "./use-list";

interface RowProps<R> extends ListProps<R> {
  columns: Column<R>[];
  index: number;
  measure?: (row: Element | null) => void;
}

export function ListRow<R>(props: RowProps<R>) {
  const { list, columns, index, measure, choice, tone, across, onOpen, onClick } = props;
  const { marks } = list;
  const row = list.source.at(index);
  if (row === undefined)
    return (
      <tr aria-rowindex={index + 2} data-index={index} className={listCss.unread}>
        <td colSpan={columns.length + (choice ? 1 : 0)} />
      </tr>
    );
  const chosen = choice?.has(row);
  const classes = [
    index === list.current && (list.opened ? "current open" : "current"),
    (marks ? marks.has(row) : chosen || choice?.some?.(row)) && "picked",
    tone?.(row),
  ];
  return (
    <tr
      ref={measure}
      aria-rowindex={index + 2}
      data-row={index}
      data-index={index}
      className={classes.filter(Boolean).join(" ")}
      aria-selected={marks?.has(row) || undefined}
      // What Shift marks is rows, not their text.
      onMouseDown={(event) => marks && event.shiftKey && event.preventDefault()}
      onClick={(event) => {
        list.move(index);
        if (event.shiftKey) marks?.through(list.current, index);
        else if (event.ctrlKey || event.metaKey) marks?.also(list.current, index);
        onClick?.(row);
      }}
      onDoubleClick={() => onOpen?.(row)}
      {...props.rowProps?.(row)}
    >
      {choice && (
        <td className={tableCss.box}>
          <Checkbox
            tabIndex={-1}
            aria-label={`${choice.does ?? "Select"} ${choice.label(row)}`}
            checked={chosen}
            indeterminate={!chosen && choice.some?.(row)}
            onClick={(event) => event.stopPropagation()}
            onChange={() => choice.set([row], !chosen)}
          />
        </td>
      )}
      {across?.(row) || columns.map((c) => <Cell key={c.name} column={c} row={row} width={list.kept.widths[c.name]} />)}
    </tr>
  );
}
