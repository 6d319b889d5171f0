import { useState } from "react";
import formCss from "../form/form.module.css";
import { useMayChange, Waits } from "./sheet";
import { useRecordActs, useSheet } from "./use-record";
import { RecordValue } from "./value";

interface Props {
  kind: string;
  id: number;
  field: string;
}

/** One field of a record, given where it is missed. */
export function RecordField({ kind, id, field }: Props) {
  const { data } = useSheet(kind, id);
  const { change } = useRecordActs(kind);
  const mayChange = useMayChange(kind);
  const [waits, setWaits] = useState(false);
  const value = data?.values.find((v) => v.name === field);
  if (!data || !value) return null;
  const save = async (text: string) => {
    const kept = await change.mutateAsync({ records: [{ id, version: data.version }], field, value: text });
    setWaits(kept.waits);
  };
  return (
    <>
      <dl className={formCss.values}>
        <RecordValue
          value={value}
          of={data.of}
          readOnly={!mayChange || Boolean(data.kept)}
          problem={change.error?.message}
          onSave={save}
          onGiveBack={() => {}}
        />
      </dl>
      {waits && <Waits for={value.label} />}
    </>
  );
}
