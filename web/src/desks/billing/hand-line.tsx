import { AutoComplete, Button, Checkbox, Input } from "antd";
import { type ReactNode, useRef, useState } from "react";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { named, orAll, Pick } from "../../frame/pick";
import { useRecordActs } from "../../frame/record/use-record";
import handLineCss from "./hand-line.module.css";
import { taxOptions } from "./tax-form";
import { type Invoice, type Line, type LineTyped, noLine } from "./use-billing";

interface Props {
  invoice: Invoice;
  /** The line that is changed; none adds one. */
  line?: Line;
  advance?: boolean;
  onSave: (typed: LineTyped) => Promise<unknown>;
  /** Puts several lines on at once. */
  onSaveAll?: (typed: LineTyped[]) => Promise<unknown>;
  onDone: () => void;
}

const typedOf = (line: Line): LineTyped => ({
  ...noLine,
  text: line.text,
  quantity: line.quantity,
  unit: line.unit,
  price: line.price,
  taxCode: line.taxCode,
  kind: line.ofKind,
  picture: line.picture,
});

/**
 * A line by hand, typed in one row: its text, then an amount, or a quantity and a price. It begins with what the client
 * was billed lately, a service or a bundle, if one is chosen. Enter saves it, and the next can be typed.
 */
export function HandLine({ invoice, line, advance = false, onSave, onSaveAll, onDone }: Props) {
  const [typed, setTyped] = useState<LineTyped>({ ...(line ? typedOf(line) : noLine), advance });
  const [refused, setRefused] = useState("");
  const [keeps, setKeeps] = useState(false);
  const box = useRef<HTMLFieldSetElement>(null);
  const keep = useKeep();
  const { engagements, taxCodes, lineKinds } = invoice.around;
  const pictures = invoice.choices.find((choice) => choice.name === "head_picture")?.options ?? [];
  const set = (field: keyof LineTyped) => (value: string | number) => setTyped({ ...typed, [field]: value });
  const next = () => {
    if (line) return onDone();
    setTyped({ ...noLine, advance, engagementId: typed.engagementId });
    box.current?.querySelector("input")?.focus();
  };
  const told = (act: Promise<unknown>) => act.then(next, (e: Error) => setRefused(e.message));
  const save = () => {
    setRefused("");
    told(
      onSave(typed).then(() => {
        // The line is on; that it could not be kept as well is said beside the next.
        if (keeps) keep(typed, invoice.total.currency).catch((e: Error) => setRefused(e.message));
      }),
    );
  };
  const begin = (choice: Schema["LineChoice"]) => {
    const [first, ...more] = choice.lines.map((l) => ({ ...l, engagementId: typed.engagementId, advance }));
    if (more.length > 0 && first && onSaveAll) told(onSaveAll([first, ...more]));
    else if (first) setTyped(first);
  };
  const field = (name: "quantity" | "unit" | "price" | "amount", label: string) => (
    <label className={name === "unit" ? handLineCss.handUnit : undefined}>
      {label}
      <Input
        size="small"
        value={typed[name]}
        onChange={(event) => set(name)(event.target.value)}
        onPressEnter={save}
        onKeyDown={(event) => event.key === "Escape" && onDone()}
      />
    </label>
  );
  const openPrice = line && line.kind !== "by_hand" && line.kind !== "advance";
  const plain = openPrice || advance;
  return (
    <fieldset
      ref={box}
      className={handLineCss.handLine}
      aria-label={line ? "Change the line" : advance ? "New advance" : "New line"}
    >
      <LineText
        invoice={invoice}
        label={advance ? "Text of the advance" : "Text of the line"}
        value={typed.text}
        plain={Boolean(line) || advance}
        onText={set("text")}
        onChoose={begin}
        onEnter={save}
        onLeave={onDone}
      />
      {!plain && field("quantity", "Quantity")}
      {!plain && field("unit", "Unit")}
      {!plain && field("price", "Price of one")}
      {field("amount", plain ? "Amount, net" : "or amount, net")}
      <Labelled label="Tax">
        <Pick
          label="Tax"
          value={typed.taxCode}
          choices={[{ value: "", label: "as agreed" }, ...taxOptions(taxCodes)]}
          onChange={set("taxCode")}
        />
      </Labelled>
      {!plain && (
        <Labelled label="Kind">
          <Pick
            label="Kind of line"
            value={typed.kind}
            choices={orAll(
              "",
              "service",
              lineKinds.filter((kind) => kind !== "Service").map((kind) => [kind, kind.toLowerCase()]),
            )}
            onChange={set("kind")}
          />
        </Labelled>
      )}
      {!plain && pictures.length > 1 && (
        <Labelled label="Picture">
          <Pick label="Picture" value={typed.picture} choices={pictures} onChange={set("picture")} />
        </Labelled>
      )}
      {!line && engagements.length > 1 && (
        <Labelled label="For">
          <Pick
            label="For which engagement"
            value={typed.engagementId}
            choices={[{ value: 0, label: "the first" }, ...named(engagements)]}
            onChange={set("engagementId")}
          />
        </Labelled>
      )}
      {!plain && !line && (
        <Checkbox
          className={handLineCss.handKeeps}
          checked={keeps}
          onChange={(event) => setKeeps(event.target.checked)}
        >
          keep it in the catalogue
        </Checkbox>
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

const Labelled = ({ label, wide, children }: { label: string; wide?: boolean; children: ReactNode }) => (
  // biome-ignore lint/a11y/noLabelWithoutControl: the control inside has its own name
  <label className={wide ? handLineCss.handText : undefined}>
    {label}
    {children}
  </label>
);

/** Keeps what was typed as a service of the catalogue. */
function useKeep() {
  const { add } = useRecordActs("services");
  return (typed: LineTyped, currency: string) =>
    add.mutateAsync({
      name: typed.text,
      kind: typed.unit ? "unit" : "fixed",
      price: typed.price || typed.amount,
      currency,
      unit: typed.unit,
      tax_code: typed.taxCode,
      line_kind: typed.kind,
    });
}

interface TextProps {
  invoice: Invoice;
  label: string;
  value: string;
  /** Without choices of what it begins with. */
  plain: boolean;
  onText: (text: string) => void;
  onChoose: (choice: Schema["LineChoice"]) => void;
  onEnter: () => void;
  onLeave: () => void;
}

/** What the arrows are on, in a list that is open. */
const activeOption = ".ant-select-dropdown:not(.ant-select-dropdown-hidden) .ant-select-item-option-active";

const groups = { lately: "Billed to them lately", service: "Services", bundle: "Bundles, all lines at once" };

/** The text of a line, with what it can begin with below. */
function LineText({ invoice, label, value, plain, onText, onChoose, onEnter, onLeave }: TextProps) {
  const choices = useRead("/api/invoices/{id}/line-choices", { path: { id: invoice.id } }, { when: !plain });
  const [open, setOpen] = useState(false);
  const found = (choices.data ?? [])
    .map((choice, at) => ({ choice, value: `${at}`, label: choice.name }))
    .filter(({ label }) => label.toLowerCase().includes(value.trim().toLowerCase()));
  const options = Object.entries(groups).flatMap(([from, label]) => {
    const own = found.filter(({ choice }) => choice.from === from).slice(0, 8);
    return own.length > 0 ? [{ label, options: own }] : [];
  });
  return (
    <Labelled label={label} wide>
      <AutoComplete
        size="small"
        autoFocus
        open={open && !plain && value !== "" && options.length > 0}
        onOpenChange={setOpen}
        value={value}
        options={options}
        defaultActiveFirstOption={false}
        onChange={(text: string) => onText(text)}
        onSelect={(at: string) => {
          const chosen = choices.data?.[Number(at)];
          if (chosen) onChoose(chosen);
          setOpen(false);
        }}
        onInputKeyDown={(event) => {
          if (event.key === "Escape") open && options.length > 0 && value ? setOpen(false) : onLeave();
          else if (event.key === "Enter" && !document.querySelector(activeOption)) onEnter();
        }}
      />
    </Labelled>
  );
}
