import { Input, Select } from "antd";

export type Method = "transfer" | "cheque" | "cash" | "card" | "debit" | "other";

const methods: { value: Method; label: string }[] = [
  { value: "transfer", label: "bank transfer" },
  { value: "cheque", label: "cheque" },
  { value: "cash", label: "cash" },
  { value: "card", label: "card" },
  { value: "debit", label: "direct debit" },
  { value: "other", label: "another way" },
];

interface TextProps {
  label: string;
  value: string;
  hint?: string;
  focus?: boolean;
  onChange: (text: string) => void;
  onEnter?: () => void;
}

/** A line of text with its label above it. */
export function TextField({ label, value, hint, focus, onChange, onEnter }: TextProps) {
  return (
    <label>
      {label}
      <Input
        autoFocus={focus}
        value={value}
        placeholder={hint}
        onChange={(event) => onChange(event.target.value)}
        onPressEnter={onEnter}
      />
    </label>
  );
}

/** How money came. */
export function MethodField({ value, onChange }: { value: Method; onChange: (method: Method) => void }) {
  return (
    <label>
      By
      <Select aria-label="By" value={value} options={methods} onChange={onChange} />
    </label>
  );
}
