import { clsx } from "clsx";
import { type KeyboardEvent, useId, useRef, useState } from "react";
import deskCss from "../../frame/desk.module.css";
import { Menu } from "../../frame/menu";
import tableCss from "../../frame/table.module.css";
import { AddLine } from "./add-line";
import { GridField } from "./grid-field";
import tiersCss from "./tiers.module.css";
import { Totals } from "./totals";
import {
  addTier,
  dropLine,
  dropTier,
  type Fault,
  type Grid,
  inCell,
  inLine,
  moveLine,
  type Proposal,
  saying,
  type Typed,
} from "./use-proposal";

interface Props {
  proposal: Proposal;
  typed: Typed;
  grid: Grid;
  fault?: Fault;
  locked: boolean;
  line: number;
  onLine: (at: number) => void;
  onOpenLine: () => void;
  commit: (change: (now: Typed) => Typed, words?: string) => void;
  preview: (change: (now: Typed) => Typed) => void;
}

const states = { in: "", optional: tiersCss.isOptional, out: tiersCss.isOut };

/** Services down, tiers across: everything is typed straight into it. */
export function TierGrid(props: Props) {
  const { proposal, typed, grid, fault, locked, commit } = props;
  const [dragged, setDragged] = useState(-1);
  const table = useRef<HTMLTableElement>(null);
  const rules = useId();
  const suggested = (tier: number) => (typed.suggested === tier + 1 ? tiersCss.suggested : undefined);
  const onKeyDown = (event: KeyboardEvent) => moveIn(table.current, event);
  return (
    <div className={clsx(deskCss.sheet, tiersCss.tiersSheet)}>
      <table className={clsx(tableCss.grid, tiersCss.tiers)} ref={table} onKeyDown={onKeyDown}>
        <thead>
          <tr>
            <th scope="col">
              <span className="under">Service, and when it is billed</span>
            </th>
            <th scope="col" className={clsx("number", tiersCss.expected)}>
              <span className="under">Expected</span>
            </th>
            {typed.tiers.map((tier, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a tier is its place
              <th scope="col" className={`number ${tiersCss.tier} ${suggested(at) ?? ""}`} key={at}>
                <TierHead {...props} at={at} name={tier.name} note={tier.note} />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {typed.lines.map((line, at) => (
            <tr
              // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place until it is moved
              key={at}
              className={at === props.line ? "current" : undefined}
              data-line={at}
              onFocus={() => props.onLine(at)}
              onDragOver={(event) => dragged >= 0 && event.preventDefault()}
              onDrop={() => {
                if (dragged >= 0 && dragged !== at) commit(moveLine(dragged, at));
                setDragged(-1);
              }}
            >
              <th scope="row" className={tiersCss.service}>
                {!locked && (
                  // biome-ignore lint/a11y/noStaticElementInteractions: the mouse's way; Alt with an arrow is the keyboard's
                  <span
                    className={tiersCss.grip}
                    draggable
                    title="Drag to move; Alt ↑ and Alt ↓ do the same"
                    onDragStart={() => setDragged(at)}
                  >
                    ⋮⋮
                  </span>
                )}
                <GridField
                  label={`Service ${at + 1}`}
                  className={tiersCss.serviceName}
                  locked={locked}
                  typed={line.description}
                  shown={line.description}
                  fault={faultAt(fault, `lines.${at}.description`)}
                  onCommit={(description) => commit(inLine(at, { description }))}
                />
                <GridField
                  label={`When ${line.description} is billed`}
                  className={tiersCss.serviceWhen}
                  list={rules}
                  locked={locked}
                  typed={line.said ?? grid.lines[at]?.said ?? ""}
                  shown={line.said ?? grid.lines[at]?.said ?? ""}
                  fault={faultAt(fault, `lines.${at}.when`, `lines.${at}.bands`, `lines.${at}.price`)}
                  onTyping={(said) => props.preview(saying(at, said))}
                  onCommit={(said) => commit(saying(at, said))}
                />
                {line.shares && <span className={tiersCss.shares}>with others</span>}
              </th>
              <td className={clsx("number", tiersCss.expected)}>
                <GridField
                  label={`Time expected for ${line.description}`}
                  locked={locked}
                  typed={line.expected}
                  shown={line.expected ? hoursEach(line.expected, grid.lines[at]?.said ?? "") : ""}
                  empty="hours"
                  fault={faultAt(fault, `lines.${at}.expected`)}
                  onTyping={(expected) => props.preview(inLine(at, { expected }))}
                  onCommit={(expected) => commit(inLine(at, { expected }))}
                />
              </td>
              {line.cells.map((cell, tier) => (
                <TierCell
                  // biome-ignore lint/suspicious/noArrayIndexKey: a tier is its place
                  key={tier}
                  {...props}
                  at={at}
                  tier={tier}
                  cell={cell}
                  name={`${line.description} in ${typed.tiers[tier]?.name ?? ""}`}
                />
              ))}
            </tr>
          ))}
          {!locked && (
            <AddLine
              proposal={proposal}
              count={typed.lines.length}
              tiers={typed.tiers.length}
              commit={commit}
              table={table}
            />
          )}
          {typed.lines.length > 0 && (!locked || typed.discount) && (
            <tr className={tiersCss.wholeDiscount}>
              <th scope="row" className={clsx("soft", tiersCss.service)}>
                Discount on the whole
              </th>
              <td className="number" colSpan={1 + typed.tiers.length}>
                <GridField
                  label="Discount on the whole"
                  locked={locked}
                  typed={typed.discount}
                  shown={typed.discount}
                  empty="none; 5 %, or an amount"
                  fault={faultAt(fault, "discount")}
                  onTyping={(discount) => props.preview((now) => ({ ...now, discount }))}
                  onCommit={(discount) => commit((now) => ({ ...now, discount }))}
                />
              </td>
            </tr>
          )}
        </tbody>
        <Totals grid={grid} proposal={proposal} suggested={typed.suggested} />
      </table>
      <datalist id={rules}>
        {[
          ...commonRules,
          ...new Set(grid.lines.map((line) => line.said).filter((said) => !commonRules.includes(said))),
        ].map((rule) => (
          <option key={rule} value={rule} />
        ))}
      </datalist>
    </div>
  );

  /** The keys of a grid: arrows and Enter move, Alt with an arrow moves the row, Ctrl Delete takes it out. */
  function moveIn(at: HTMLTableElement | null, event: KeyboardEvent) {
    const row = (event.target as HTMLElement).closest<HTMLElement>("tr");
    const index = Number(row?.dataset.line ?? -1);
    const fields = row ? [...row.querySelectorAll("input")] : [];
    const column = fields.indexOf(event.target as HTMLInputElement);
    if (!at || column < 0) return;
    const focus = (to: number) => {
      const next = at.querySelectorAll<HTMLInputElement>(`tr[data-line="${to}"] input`);
      (next[column] ?? at.querySelector<HTMLInputElement>(`.${tiersCss.addLine} input`))?.focus();
    };
    if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown") && index >= 0) {
      const to = index + (event.key === "ArrowUp" ? -1 : 1);
      if (to < 0 || to >= typed.lines.length || locked) return;
      commit(moveLine(index, to));
      requestAnimationFrame(() => focus(to));
    } else if (event.ctrlKey && event.key === "Delete" && index >= 0 && !locked)
      commit(dropLine(index), `Took out ${typed.lines[index]?.description}.`);
    else if (event.key === "F2" && index >= 0) props.onOpenLine();
    else if (event.altKey || event.ctrlKey || (event.target as HTMLInputElement).list) return;
    else if (event.key === "ArrowDown" || event.key === "Enter") focus(index + 1);
    else if (event.key === "ArrowUp") focus(index - 1);
    else return;
    event.preventDefault();
  }
}

const commonRules = [
  "on acceptance",
  "half as deposit on acceptance, the rest when the work is delivered",
  "each month, in advance, on the 1st",
  "each quarter, in arrears, on the 10th, first one prorated",
  "each year, in advance",
  "by hand",
  "as worked",
  "open, priced when billed",
];

const words = (cell: Schema) =>
  cell.state === "optional" ? (cell.main ? `optional ${cell.main}` : "optional") : cell.main;
type Schema = Grid["lines"][number]["cells"][number];

/** What the server keeps in a cell, as it is typed. */
const canonical = (proposal: Proposal, at: number, tier: number) => proposal.grid.typed.lines[at]?.cells[tier];

const faultAt = (fault: Fault | undefined, ...fields: string[]) =>
  fault && fields.includes(fault.field) ? fault.sentence : undefined;

/** Expected time as it is read: of each bill, where there are several. */
function hoursEach(expected: string, said: string) {
  const text = /^[\d.,:]+$/.test(expected) ? `${expected} h` : expected;
  return /each|every|per /.test(said) ? `${text} each` : text;
}

interface CellProps extends Props {
  at: number;
  tier: number;
  cell: string;
  name: string;
}

/** What a service is in a tier: typed, or chosen from its menu. */
function TierCell({ at, tier, cell, name, proposal, typed, grid, fault, locked, preview, commit }: CellProps) {
  const shown = grid.lines[at]?.cells[tier];
  const kept = proposal.grid.lines[at]?.cells[tier];
  const suggested = typed.suggested === tier + 1 && tiersCss.suggested;
  const now = shown?.state ?? "out";
  return (
    <td className={clsx("number", tiersCss.tier, suggested, states[now])}>
      <GridField
        label={name}
        locked={locked}
        typed={kept && cell === canonical(proposal, at, tier) ? kept.typed : cell}
        shown={shown ? words(shown) : cell}
        under={shown?.under}
        fault={faultAt(fault, `lines.${at}.cells.${tier}`)}
        onTyping={(text) => preview(inCell(at, tier, text))}
        onCommit={(text) => commit(inCell(at, tier, text))}
      />
      {!locked && (
        <Menu
          items={(["in", "optional", "out"] as const).map((to) => ({
            key: to,
            label: stateWords[to],
            disabled: to === now,
            onClick: () => commit(inCell(at, tier, turned(cell, to))),
          }))}
        >
          <button type="button" tabIndex={-1} className={tiersCss.cellMore} aria-label={`More for ${name}`}>
            …
          </button>
        </Menu>
      )}
    </td>
  );
}

const stateWords = { in: "In it", optional: "Optional: the client may add it", out: "Not in it" };

/** A cell with its number, as another state. */
function turned(cell: string, to: keyof typeof stateWords) {
  const number = cell.replace(/^(optional|option|opt|o|x|-|–)(?![a-z])[\s,:]*/i, "");
  if (to === "out") return "-";
  return to === "in" ? number || "x" : `optional ${number}`.trim();
}

function TierHead({
  at,
  name,
  note,
  typed,
  locked,
  commit,
  fault,
}: Props & { at: number; name: string; note: string }) {
  const replace = (part: { name?: string; note?: string }) =>
    commit((now) => ({ ...now, tiers: now.tiers.map((tier, i) => (i === at ? { ...tier, ...part } : tier)) }));
  const isSuggested = typed.suggested === at + 1;
  return (
    <>
      {isSuggested && <span className={tiersCss.tierSuggested}>we suggest it</span>}
      <GridField
        label={`Name of tier ${at + 1}`}
        className={tiersCss.tierName}
        locked={locked}
        typed={name}
        shown={name}
        empty="name"
        fault={faultAt(fault, `tiers.${at}`)}
        onCommit={(text) => replace({ name: text })}
      />
      <GridField
        label={`About tier ${at + 1}`}
        className={tiersCss.tierNote}
        locked={locked}
        typed={note}
        shown={note}
        empty="a few words"
        onCommit={(text) => replace({ note: text })}
      />
      {!locked && (
        <Menu
          items={[
            {
              key: "suggest",
              label: isSuggested ? "Suggest none" : "Suggest this one",
              onClick: () => commit((now) => ({ ...now, suggested: isSuggested ? 0 : at + 1 })),
            },
            {
              key: "copy",
              label: "Copy to a new tier",
              disabled: typed.tiers.length >= 5,
              onClick: () => commit(addTier(at)),
            },
            {
              key: "drop",
              label: "Take this tier out",
              disabled: typed.tiers.length <= 1,
              onClick: () => commit(dropTier(at), `Took out the tier ${name}.`),
            },
          ]}
        >
          <button type="button" className={tiersCss.tierMore} aria-label={`More for tier ${name}`}>
            …
          </button>
        </Menu>
      )}
    </>
  );
}
