import { Button, Input } from "antd";
import { useState } from "react";
import { named, orAll, Pick } from "../../frame/pick";
import handLineCss from "./hand-line.module.css";
import { type Invoice, type Line, type LineTyped, noLine } from "./use-billing";

interface Props {
  invoice: Invoice;
  /** The line that is changed; none adds one. */
  line?: Line;
  advance?: boolean;
  onSave: (typed: LineTyped) => Promise<unknown>;
  onDone: () => void;
}

const typedOf = (line: Line): LineTyped => ({
  ...noLine,
  text: line.text,
  quantity: line.quantity,
  unit: line.unit,
  price: line.price,
  taxCode: line.taxCode,
});

/** A line by hand, typed in one row: its text, then an amount, or a quantity and a price. Enter saves it. */
export function HandLine({ invoice, line, advance = false, onSave, onDone }: Props) {
  const [typed, setTyped] = useState<LineTyped>({ ...(line ? typedOf(line) : noLine), advance });
  const [refused, setRefused] = useState("");
  const works = invoice.around.engagements;
  const set = (field: keyof LineTyped) => (value: string | number) => setTyped({ ...typed, [field]: value });
  const save = () => {
    setRefused("");
    onSave(typed).then(
      () => (line ? onDone() : setTyped({ ...noLine, advance, engagementId: typed.engagementId })),
      (e: Error) => setRefused(e.message),
    );
  };
  const field = (name: "text" | "quantity" | "unit" | "price" | "amount", label: string, focus = false) => (
    <label className={name === "text" ? handLineCss.handText : name === "unit" ? handLineCss.handUnit : undefined}>
      {label}
      <Input
        size="small"
        autoFocus={focus}
        value={typed[name]}
        onChange={(event) => set(name)(event.target.value)}
        onPressEnter={save}
        onKeyDown={(event) => event.key === "Escape" && onDone()}
      />
    </label>
  );
  const openPrice = line && line.kind !== "by_hand" && line.kind !== "advance";
  return (
    <fieldset
      className={handLineCss.handLine}
      aria-label={line ? "Change the line" : advance ? "New advance" : "New line"}
    >
      {field("text", advance ? "Text of the advance" : "Text of the line", true)}
      {!openPrice && !advance && field("quantity", "Quantity")}
      {!openPrice && !advance && field("unit", "Unit")}
      {!openPrice && !advance && field("price", "Price of one")}
      {field("amount", openPrice || advance ? "Amount, net" : "or amount, net")}
      <label>
        Tax
        <Pick
          label="Tax code"
          value={typed.taxCode}
          choices={orAll(
            "",
            "as work",
            invoice.around.taxCodes.map((code) => [code, code]),
          )}
          onChange={set("taxCode")}
        />
      </label>
      {!line && works.length > 1 && (
        <label>
          For
          <Pick
            label="For which engagement"
            value={typed.engagementId}
            choices={[{ value: 0, label: "the first" }, ...named(works)]}
            onChange={set("engagementId")}
          />
        </label>
      )}
      <span className={handLineCss.handActs}>
        <Button size="small" type="primary" onClick={save}>
          {line ? "Keep" : "Add"}
        </Button>
        <Button size="small" type="text" onClick={onDone}>
          Close
        </Button>
      </span>
      {refused && (
        <p className="refusal" role="alert">
          {refused}
        </p>
      )}
    </fieldset>
  );
}
