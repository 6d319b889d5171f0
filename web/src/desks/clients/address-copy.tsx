import { useState } from "react";
import { Do } from "../../frame/do";
import { Pick } from "../../frame/pick";
import { useRecordActs, useSheet } from "../../frame/record/use-record";
import clientsCss from "./clients.module.css";

const addresses = [
  { value: "address", label: "registered" },
  { value: "billing_address", label: "billing" },
  { value: "mailing_address", label: "mailing" },
  { value: "shipping_address", label: "shipping" },
];

/** One click copies one address to another. */
export function AddressCopy({ id }: { id: number }) {
  const sheet = useSheet("clients", id);
  const acts = useRecordActs("clients");
  const [from, setFrom] = useState("address");
  const [to, setTo] = useState("mailing_address");
  const textOf = (name: string) => sheet.data?.values.find((v) => v.name === name)?.value ?? "";
  if (!sheet.data || addresses.every((a) => !textOf(a.value))) return null;
  const choose = (label: string, value: string, onChange: (v: string) => void) => (
    <Pick variant="underlined" label={label} value={value} onChange={onChange} choices={addresses} />
  );
  return (
    <p className={clientsCss.addressCopy}>
      Copy the {choose("Copy from", from, setFrom)} address to the {choose("Copy to", to, setTo)} one{" "}
      <Do
        disabled={from === to || !textOf(from)}
        onClick={() =>
          sheet.data &&
          acts.change.mutate({
            records: [{ id, version: sheet.data.version }],
            field: to,
            value: textOf(from),
          })
        }
      >
        Copy
      </Do>
    </p>
  );
}
