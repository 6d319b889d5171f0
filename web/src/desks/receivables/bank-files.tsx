import { useRef, useState } from "react";
import { long } from "../../frame/days";
import { Money } from "../../frame/figure";
import { ChoiceField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { useRows } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import { type Found, useReadFiles, useTryFiles } from "./use-bank";

/** Files of a bank, tried before they are read: which statement each brings, and what is new in it. */
export function BankFiles({ onDone }: { onDone: () => void }) {
  const [files, setFiles] = useState<File[]>([]);
  const field = useRef<HTMLInputElement>(null);
  const accounts = useRows("bank-accounts").data ?? [];
  const form = useTyping({ account: 0 });
  const { account } = form.typed;
  const look = useTryFiles();
  const read = useReadFiles();
  const found = look.data ?? [];
  const fresh = found.reduce((sum, one) => sum + one.new, 0);
  const ready = found.length > 0 && found.every((one) => !one.problem) && fresh > 0;
  const tryOut = (chosen: File[], of: number) => {
    setFiles(chosen);
    if (chosen.length > 0) look.mutate({ files: chosen, account: of });
  };
  const choose = (id: number) => {
    form.set({ account: id });
    tryOut(files, id);
  };
  return (
    <Form
      label="Files of the bank"
      title="Read statements"
      act={read}
      ok={fresh === 1 ? "Read 1 new entry" : `Read ${fresh || ""} new entries`}
      ready={ready}
      onOk={() => read.mutate({ files, account }, { onSuccess: onDone })}
      onNo={onDone}
    >
      <p className="soft">
        camt.053 says by itself of which account it is. For a CSV file choose the account; its columns are named under
        Set-up, Bank accounts.
      </p>
      <ChoiceField
        of={{ ...form, set: (next) => choose(Number(next.account)) }}
        name="account"
        label="Account of CSV files"
        options={[{ value: 0, label: "as the file says" }, ...accounts.map((a) => ({ value: a.id, label: a.title }))]}
      />
      <p>
        <label className={formCss.fileChoice}>
          {files.length === 0 ? "Choose files" : `${files.length} chosen; choose others`}
          <input
            ref={field}
            type="file"
            multiple
            accept=".xml,.csv,.txt,.xlsx"
            aria-label="Files of the bank"
            onChange={(event) => {
              tryOut([...(event.target.files ?? [])], account);
              event.target.value = "";
            }}
          />
        </label>
      </p>
      <Refused by={look.error} />
      {found.map((one) => (
        <Statement key={`${one.file} ${one.number}`} of={one} />
      ))}
    </Form>
  );
}

/** A statement in a file, and what reading it does. */
function Statement({ of }: { of: Found }) {
  if (of.problem)
    return (
      <p className="refusal">
        {of.file}: {of.problem}
      </p>
    );
  return (
    <p>
      <b>{of.account}</b>, {long(of.from)} to {long(of.to)}: from <Money of={of.opening} /> to <Money of={of.closing} />
      ,{" "}
      {of.new === 0 ? (
        <span className="soft">all {of.entries} entries are here already</span>
      ) : (
        `${of.new} of ${of.entries} entries are new`
      )}
    </p>
  );
}
