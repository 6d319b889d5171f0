import { Input } from "antd";
import type { Schema } from "../../api/client";
import { long } from "../../frame/days";
import { money, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";

export type OpenPart = Schema["Outstanding"]["clients"][number]["open"][number];

/** The invoices of what is open, with what is open on each. */
export const openInvoices = (parts: OpenPart[]) =>
  [...new Map(parts.map((part) => [part.invoiceId, part])).values()].map((part) => ({
    ...part,
    open: {
      ...part.open,
      minor: parts.filter((p) => p.invoiceId === part.invoiceId).reduce((sum, p) => sum + p.open.minor, 0),
    },
  }));

const columns: Column<OpenPart>[] = [
  text("Invoice", (one) => one.number, {
    names: "light",
    cell: (one) => (
      <>
        {one.number}
        <span className="under">due {long(one.due)}</span>
      </>
    ),
  }),
  money("Open", (one) => one.open),
];

interface Props {
  invoices: OpenPart[];
  /** What goes on which, as typed. */
  on: Record<number, string>;
  onChange: (on: Record<number, string>) => void;
  caption: string;
  /** What stands in an empty field. */
  placeholder?: (one: OpenPart) => string;
}

/** Which open invoices money is put on, and how much of it. */
export function PaidInvoices({ invoices, on, onChange, caption, placeholder }: Props) {
  if (invoices.length === 0) return null;
  return (
    <Table
      headless
      look="entries"
      caption={caption}
      rows={invoices}
      id={(one) => one.invoiceId}
      columns={[
        ...columns,
        {
          name: "On it",
          cell: (one) => (
            <Input
              size="small"
              aria-label={`On ${one.number}`}
              placeholder={placeholder?.(one)}
              value={on[one.invoiceId] ?? ""}
              onChange={(event) => {
                const next = { ...on, [one.invoiceId]: event.target.value };
                if (!event.target.value) delete next[one.invoiceId];
                onChange(next);
              }}
            />
          ),
        },
      ]}
    />
  );
}
