import { type ReactNode, useState } from "react";
import { Problem } from "../../api/client";
import { useSession } from "../../api/session";
import { Dialog } from "../dialog";
import { Do } from "../do";
import formCss from "../form/form.module.css";
import { History } from "../history";
import { Refused } from "../state";
import { type Sheet, useRecordActs, useSheet, type Value } from "./use-record";
import { RecordValue } from "./value";

interface Props {
  kind: string;
  id: number;
  /** Groups that stand open; the others open when they are asked for. Nothing: the first. */
  open?: string[];
  /** What stands at the end of a group. */
  ends?: Record<string, ReactNode>;
  children?: ReactNode;
  onGone?: () => void;
}

/** Who may change which records besides administrators: the server has the table, this only hides what it refuses. */
const leadsChange = new Set(["phases", "budgets", "contacts", "client-notes", "client-steps"]);

/** Whether the signed-in person changes records of a kind. */
export function useMayChange(kind: string) {
  const { role } = useSession();
  return role === "administrator" || (role === "lead" && leadsChange.has(kind));
}

/** Everything that a record says, each line changed in place; what was just changed can be taken back. */
export function RecordSheet({ kind, id, open, ends, children, onGone }: Props) {
  const sheet = useSheet(kind, id);
  const acts = useRecordActs(kind);
  const allowed = useMayChange(kind);
  const [undo, setUndo] = useState<{ field: string; label: string; value: string; giveBack: boolean } | null>(null);
  const [waits, setWaits] = useState("");
  if (sheet.error) return <p className="refusal">{sheet.error.message}</p>;
  if (!sheet.data) return null;
  const { data } = sheet;
  const mayChange = allowed && !data.kept;
  const seen = [{ id: data.id, version: data.version }];
  const save = async (value: Value, text: string) => {
    const kept = await acts.change.mutateAsync({ records: seen, field: value.name, value: text });
    if (kept.waits) setWaits(value.label);
    else
      setUndo({ field: value.name, label: value.label, value: value.value, giveBack: value.inherited && !value.own });
  };
  const giveBack = (value: Value) =>
    acts.change.mutate(
      { records: seen, field: value.name, value: "", giveBack: true },
      { onSuccess: () => setUndo({ field: value.name, label: value.label, value: value.value, giveBack: false }) },
    );
  const takeBack = () =>
    undo &&
    acts.change.mutate(
      { records: seen, field: undo.field, value: undo.value, giveBack: undo.giveBack },
      { onSuccess: () => setUndo(null) },
    );
  const failed = acts.change.error instanceof Problem ? acts.change.error : null;
  const groups = grouped(data);
  return (
    <>
      {allowed && data.kept && <p className="soft">{data.kept}</p>}
      {waits && <Waits for={waits} />}
      {undo && (
        <p className={formCss.undo} role="status">
          Changed {undo.label.toLowerCase()}. <Do onClick={takeBack}>Undo</Do>
        </p>
      )}
      {failed && acts.change.variables && !data.values.some((v) => v.name === acts.change.variables?.field) && (
        <p className="refusal">{failed.message}</p>
      )}
      {groups.map(([name, values], index) => (
        <Group
          key={name}
          name={name}
          open={open ? open.includes(name) : index === 0}
          values={values}
          end={ends?.[name]}
        >
          {values.map((value) => (
            <RecordValue
              key={value.name}
              value={value}
              of={data.of}
              readOnly={!mayChange}
              problem={acts.change.variables?.field === value.name ? failed?.message : undefined}
              onSave={(text) => save(value, text)}
              onGiveBack={() => giveBack(value)}
            />
          ))}
        </Group>
      ))}
      {children}
      {mayChange && kind !== "firm" && <Ending kind={kind} sheet={data} onGone={onGone} />}
      <History subject={kind} id={id} />
    </>
  );
}

/** What was typed waits for a second administrator. */
export function Waits({ for: label }: { for: string }) {
  return (
    <p className={formCss.undo} role="status">
      {label} is not changed yet: a second administrator has to agree. They were told.
    </p>
  );
}

function grouped(sheet: Sheet): [string, Value[]][] {
  const groups = new Map<string, Value[]>();
  for (const value of sheet.values) groups.set(value.group, [...(groups.get(value.group) ?? []), value]);
  return [...groups];
}

interface GroupProps {
  name: string;
  open: boolean;
  values: Value[];
  end?: ReactNode;
  children: ReactNode;
}

function Group(props: GroupProps) {
  const own = props.values.filter((v) => (v.inherited ? v.own : v.value !== "")).length;
  return (
    <details className={formCss.group} open={props.open}>
      <summary>
        <h2 className="sub">{props.name}</h2>
        <span className="soft">{own > 0 ? own : ""}</span>
      </summary>
      <dl className={formCss.values}>{props.children}</dl>
      {props.end}
    </details>
  );
}

/** Making it inactive, taking it back, deleting it. */
function Ending({ kind, sheet, onGone }: { kind: string; sheet: Sheet; onGone?: () => void }) {
  const acts = useRecordActs(kind);
  const [asking, setAsking] = useState(false);
  const seen = { id: sheet.id, version: sheet.version };
  const problem = acts.setActive.error ?? acts.remove.error;
  return (
    <p className={formCss.ending}>
      {sheet.retires && (
        <Do onClick={() => acts.setActive.mutate({ ...seen, active: !sheet.active })}>
          {sheet.active ? "Make inactive" : "Take back"}
        </Do>
      )}
      {sheet.used ? (
        <span className="soft">Used by {sheet.used}.</span>
      ) : (
        <button type="button" className="link lost" onClick={() => setAsking(true)}>
          Delete
        </button>
      )}
      <Refused by={problem} inline />
      {asking && (
        <Dialog
          danger
          title={`Delete ${sheet.title}?`}
          ok={`Delete ${sheet.title}`}
          no="Keep it"
          onNo={() => setAsking(false)}
          onOk={() => acts.remove.mutate(seen, { onSuccess: () => onGone?.(), onSettled: () => setAsking(false) })}
        >
          Nothing refers to it. Its history stays; this can't be undone.
        </Dialog>
      )}
    </p>
  );
}
