import { Button, Input } from "antd";
import { useState } from "react";
import { useAct } from "../../api/act";
import type { Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { Do } from "../../frame/do";
import { ChoiceField } from "../../frame/form/fields";
import { Field, FieldGroup } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { Pick } from "../../frame/pick";
import { useMayChange } from "../../frame/record/sheet";
import { useRecordActs } from "../../frame/record/use-record";
import { Refused } from "../../frame/state";
import { taxOptions } from "../billing/tax-form";
import pricingCss from "./pricing.module.css";
import { RuleChoice } from "./rule-choice";
import {
  asPrices,
  dropLine,
  type Fault,
  type Grid,
  inCell,
  inLine,
  type Proposal,
  type Typed,
  type TypedLine,
  tierChoices,
} from "./use-proposal";

interface Props {
  proposal: Proposal;
  typed: Typed;
  grid: Grid;
  locked: boolean;
  fault?: Fault;
  at: number;
  commit: (change: (now: Typed) => Typed, words?: string) => void;
}

const withoutNumber = (cell: string) => cell.replace(/^optional .*/, "optional").replace(/^[\d.,' ]+.*$/, "x");

const kinds: { value: TypedLine["kind"]; label: string }[] = [
  { value: "fixed", label: "at a fixed price" },
  { value: "unit", label: "per unit" },
  { value: "hourly", label: "by the hour" },
  { value: "bands", label: "in price bands" },
  { value: "open", label: "open: when billed" },
];

/** Everything about one service of the grid: how it is priced, taxed and billed, and what it should cost. */
export function LinePane(props: Props) {
  const { proposal, typed, grid, at, locked, fault, commit } = props;
  const mayKeep = useMayChange("services");
  const line = typed.lines[at];
  if (!line) return <p className="soft">Add a service first: its details stand here.</p>;
  const set = (part: Partial<TypedLine>) => commit(inLine(at, part));
  const text = (name: keyof TypedLine & string, label: string, hint = "", wide = false) => (
    <Field key={name} label={label} wide={wide}>
      <Kept
        value={String(line[name] ?? "")}
        placeholder={hint}
        disabled={locked}
        onKeep={(value) => set({ [name]: value })}
      />
      {fault?.field === `lines.${at}.${name}` && <span className="refusal">{fault.sentence}</span>}
    </Field>
  );
  const priced = {
    typed: line,
    set: ({ kind = line.kind }: Partial<TypedLine>) =>
      set({
        kind,
        // A number that was a price is no quantity, nor the other way round.
        ...(kind !== "fixed" && line.kind === "fixed" && { cells: asPrices(line) }),
        ...(kind === "fixed" && line.kind !== "fixed" && { cells: line.cells.map(withoutNumber) }),
        ...(kind === "open" && { when: "by hand" }),
        ...(kind === "bands" && !line.bands && { bands: "first 1 at 0, then 0" }),
      }),
  };
  const others = typed.lines.flatMap((other, i) => (i === at ? [] : [{ i, other }]));
  const together = {
    typed: { with: others.find(({ other }) => other.shares && other.shares === line.shares)?.i ?? -1 },
    set: (change: { with?: number }) => commit(share(at, change.with ?? -1)),
  };
  return (
    <div className="line-pane">
      <h2>{line.description}</h2>
      <FieldGroup readOnly={locked}>
        <ChoiceField of={priced} name="kind" label="Priced" options={kinds} wide />
        {line.kind === "bands"
          ? text("bands", "Price bands", "first 10 at 40, then 35", true)
          : line.kind !== "open" && text("price", line.kind === "hourly" ? "Rate an hour" : "Price")}
        {line.kind !== "open" &&
          text("quantity", line.kind === "hourly" ? "Hours" : "Quantity", line.kind === "hourly" ? "as expected" : "1")}
        {(line.kind === "unit" || line.kind === "bands") && text("unit", "Unit", "day, call, sample")}
        {text("discount", "Discount on the line", "5 % or an amount")}
        <ChoiceField of={{ typed: line, set }} name="taxCode" label="Tax" options={taxOptions(proposal.taxCodes)} />
        {text("expected", "Time expected each time", "8 AB, 40 Senior, or 64", true)}
        {text("about", "What the client gets", "", true)}
        {text("text", "Terms of this service", "", true)}
        {text("work", "Engagement, if not the proposal's own", "", true)}
        {!locked && others.length > 0 && (
          <ChoiceField
            of={together}
            name="with"
            label="Billed together with"
            options={[
              { value: -1, label: "nothing: on its own" },
              ...others.map(({ i, other }) => ({ value: i, label: other.description })),
            ]}
            wide
          />
        )}
      </FieldGroup>
      {!locked && line.kind !== "open" && (
        <RuleChoice line={line} said={grid.lines[at]?.said ?? ""} onSay={(when) => commit(say(at, when))} />
      )}
      {!locked && <FeeFor {...props} line={line} />}
      {!locked && (
        <p className={formCss.ending}>
          {line.serviceId === 0 && mayKeep && (
            <KeepInCatalogue line={line} onKept={(serviceId) => set({ serviceId })} />
          )}
          <Do onClick={() => commit(dropLine(at), `Took out ${line.description}.`)}>Take it out</Do>
        </p>
      )}
    </div>
  );
}

/** Sets when a line is billed, and all lines with it that share its rule. */
const say = (at: number, when: string) => (now: Typed) => {
  const shares = now.lines[at]?.shares;
  return {
    ...now,
    lines: now.lines.map((line, i) => (i === at || (shares && line.shares === shares) ? { ...line, when } : line)),
  };
};

/** Gives a line the rule of another, from now on together; -1: alone. */
const share = (at: number, other: number) => (now: Typed) => {
  const of = now.lines[other];
  const name = of ? of.shares || `with ${of.description}`.slice(0, 50) : "";
  return {
    ...now,
    lines: now.lines.map((line, i) => {
      if (i === at) return { ...line, shares: name, when: of ? of.when : line.when };
      return i === other ? { ...line, shares: name } : line;
    }),
  };
};

interface KeptProps {
  value: string;
  placeholder: string;
  disabled: boolean;
  onKeep: (text: string) => void;
}

/** A field that counts when it is left. */
function Kept({ value, placeholder, disabled, onKeep }: KeptProps) {
  return (
    <Input
      key={value}
      variant="underlined"
      defaultValue={value}
      placeholder={placeholder}
      disabled={disabled}
      onBlur={(event) => event.target.value !== value && onKeep(event.target.value)}
      onPressEnter={(event) => event.currentTarget.blur()}
    />
  );
}

/** Which fee would give a margin: asked and taken in place. */
function FeeFor({ proposal, typed, line, at, locked, commit }: Props & { line: TypedLine }) {
  const { seesCosts } = useSession();
  const [margin, setMargin] = useState("45 %");
  const [tier, setTier] = useState(Math.max(typed.suggested - 1, 0));
  const asked = useRead(
    "/api/proposals/{id}/fee",
    {
      path: { id: proposal.id },
      query: { tier, line: at, margin },
    },
    { when: seesCosts && line.expected !== "" && margin.trim() !== "" },
  );
  if (!line.expected || !seesCosts) return null;
  return (
    <div className={pricingCss.feeFor}>
      <p>
        For{" "}
        <Input
          className={pricingCss.feeMargin}
          variant="underlined"
          aria-label="Margin wanted"
          value={margin}
          onChange={(event) => setMargin(event.target.value)}
        />{" "}
        margin in{" "}
        <Pick
          variant="borderless"
          size="middle"
          label="Tier"
          value={tier}
          choices={tierChoices(typed.tiers)}
          onChange={setTier}
        />
        {asked.data && (
          <>
            : <b>{asked.data.words}</b>
            {asked.data.now && <span className="under">It gives {asked.data.now} % now.</span>}
          </>
        )}
        <Refused by={asked.error} inline />
      </p>
      {asked.data && !locked && line.kind === "fixed" && (
        <p className={formCss.buttons}>
          <Button size="small" onClick={() => commit(inCell(at, tier, asked.data.fee))}>
            Take {asked.data.fee}
          </Button>
          {asked.data.worth && (
            <Button size="small" onClick={() => commit(inCell(at, tier, asked.data.worth ?? ""))}>
              Take {asked.data.worth}, at standard rates
            </Button>
          )}
        </p>
      )}
    </div>
  );
}

const catalogueKind: Partial<Record<Schema["TypedLine"]["kind"], string>> = { unit: "unit", hourly: "time" };

/** Puts a line that was typed in into the catalogue. */
function KeepInCatalogue({ line, onKept }: { line: TypedLine; onKept: (serviceId: number) => void }) {
  const acts = useRecordActs("services");
  const keep = useAct(
    async () =>
      acts.add.mutateAsync({
        name: line.description,
        kind: catalogueKind[line.kind] ?? "fixed",
        price: line.kind === "hourly" ? "" : line.price,
        unit: line.unit,
        about: line.about,
        terms_text: line.text,
        minutes: /^[\d.,:]+( ?h)?$/.test(line.expected) ? line.expected : "",
      }),
    { done: (made) => onKept(made.id) },
  );
  return (
    <>
      <Do disabled={keep.isPending} onClick={() => keep.mutate()}>
        Keep in the catalogue
      </Do>{" "}
      <Refused by={keep.error} inline />
    </>
  );
}
