import { type ReactNode, useState } from "react";
import { Do } from "../do";
import formCss from "../form/form.module.css";
import { NewRecord } from "./new";
import { RecordSheet, useMayChange } from "./sheet";

interface Props {
  kind: string;
  /** For who can't see it, and as its heading says it. */
  label: string;
  heading?: ReactNode;
  /** How one is added, as its link says it. */
  add: string;
  /** What is known of a new one. */
  known: Record<string, string>;
  /** What they belong to, where their like are chosen. */
  of?: number;
  /** The parts of a record that are unfolded. */
  unfolds?: string[];
  /** What stands there while there is none. */
  none?: ReactNode;
  empty?: boolean;
  /** The form of a new one stays, for the next. */
  stays?: boolean;
  children: (rows: Opening) => ReactNode;
}

/** How the rows of a section are opened, and how another is begun. */
export interface Opening {
  mayChange: boolean;
  /** Opens a record under its row, or closes it. */
  turn: (id: number) => void;
  under: (row: { id: number }) => ReactNode;
  /** Begins another, of which more is known. */
  begin: (known?: Record<string, string>) => void;
}

/** Records that belong to another: shown in its page, made and changed in place. */
export function RecordSection(props: Props) {
  const { kind, label, heading = label, add, known, of, unfolds, none, empty, stays, children } = props;
  const mayChange = useMayChange(kind);
  const [making, setMaking] = useState<Record<string, string>>();
  const [open, setOpen] = useState(0);
  const opening: Opening = {
    mayChange,
    turn: (id) => setOpen(open === id ? 0 : id),
    under: (row) =>
      row.id === open && (
        <div className={formCss.inPlace}>
          <RecordSheet kind={kind} id={row.id} open={unfolds} onGone={() => setOpen(0)} />
        </div>
      ),
    begin: (more = {}) => setMaking(more),
  };
  return (
    <section aria-label={label}>
      <h2 className="sub">
        {heading} {mayChange && !making && <Do onClick={() => setMaking({})}>{add}</Do>}
      </h2>
      {making && (
        <div className={formCss.inPlace}>
          <NewRecord
            kind={kind}
            known={{ ...known, ...making }}
            of={of}
            stays={stays}
            onMade={() => !stays && setMaking(undefined)}
            onCancel={() => setMaking(undefined)}
          />
        </div>
      )}
      {empty && !making && <p className="soft">{none}</p>}
      {!empty && children(opening)}
    </section>
  );
}
