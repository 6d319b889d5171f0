import { Link } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Pick } from "../../frame/pick";
import { useOptions } from "../../frame/record/use-record";
import { SaidChoice, SaidDate, SaidText, Sentence } from "../../frame/sentence";
import sentenceCss from "../../frame/sentence.module.css";
import { Title } from "../../frame/title";
import { GridField } from "./grid-field";
import tiersCss from "./tiers.module.css";
import { type Fault, type Grid, type Proposal, stateWords, type Typed } from "./use-proposal";

interface Props {
  proposal: Proposal;
  typed: Typed;
  grid: Grid;
  locked: boolean;
  fault?: Fault;
  commit: (change: (now: Typed) => Typed) => void;
}

/** What the proposal is called, and its terms as a sentence. */
export function EditorHead({ proposal, typed, grid, locked, fault, commit }: Props) {
  const { role } = useSession();
  const people = useOptions("people", { has: typed.lead, when: role === "administrator" });
  const set = (part: Partial<Typed>) => commit((now) => ({ ...now, ...part }));
  return (
    <>
      <p className={deskCss.over}>
        <Link to="/pricing">Pricing</Link> · {proposal.number} · {stateWords[proposal.state]} · led by{" "}
        {role === "administrator" && !locked ? (
          <Pick
            className={tiersCss.ledBy}
            variant="borderless"
            label="Led by"
            value={typed.lead}
            search={people.search}
            choices={(people.data ?? []).map((person) => ({ value: person.key, label: person.title }))}
            onChange={(lead) => set({ lead })}
          />
        ) : (
          proposal.lead
        )}
        {proposal.replacedBy ? (
          <>
            {" "}
            · <Link to={`/pricing/${proposal.replacedBy}`}>the newer version</Link>
          </>
        ) : null}
        {proposal.replaces ? (
          <>
            {" "}
            · <Link to={`/pricing/${proposal.replaces}`}>takes the place of an earlier one</Link>
          </>
        ) : null}
      </p>
      <Title name={typed.name} className={tiersCss.proposalName}>
        <GridField
          label="Name of the proposal, for us"
          locked={locked}
          typed={typed.name}
          shown={typed.name}
          fault={fault?.field === "name" ? fault.sentence : undefined}
          onCommit={(name) => set({ name })}
        />
      </Title>
      {locked ? (
        <p className={sentenceCss.sentence}>
          For <b>{proposal.client}</b>, valid until <b>{long(typed.validUntil)}</b>, starts{" "}
          <b>{typed.starts ? long(typed.starts) : "when accepted"}</b>, at least{" "}
          <b>{typed.term ? `${typed.term} months` : "no time"}</b>
          {typed.dueIn && (
            <>
              , bills due <b>{typed.dueIn}</b>
            </>
          )}
          {typed.paidIn && (
            <>
              , paid <b>{typed.paidIn}</b>
            </>
          )}
          .
        </p>
      ) : (
        <Sentence>
          For <Link to={`/clients/${proposal.clientId}`}>{proposal.client}</Link>
          {proposal.prospect && " (a prospect)"}, valid until{" "}
          <SaidDate label="Valid until" value={typed.validUntil} onChange={(validUntil) => set({ validUntil })} />,
          starts{" "}
          <SaidChoice
            label="Starts"
            value={typed.starts ? "day" : ""}
            choices={[
              { value: "", label: "when accepted" },
              { value: "day", label: "on a date" },
            ]}
            onChange={(how) => set({ starts: how ? grid.start : "" })}
          />{" "}
          {typed.starts ? (
            <SaidDate label="Start" value={typed.starts} onChange={(starts) => set({ starts })} />
          ) : (
            <>
              (shown for{" "}
              <SaidDate
                label="Shown for"
                value={typed.shownFor || grid.start}
                onChange={(shownFor) => set({ shownFor })}
              />
              )
            </>
          )}
          , at least{" "}
          <SaidText
            label="Months at least"
            any="no"
            value={typed.term}
            onChange={(term) => set({ term: term === "0" ? "" : term })}
          />{" "}
          months, bills due{" "}
          <SaidText
            label="Payment terms"
            as="terms"
            any="as the client's"
            value={typed.dueIn}
            onChange={(dueIn) => set({ dueIn })}
          />
          , paid{" "}
          <SaidText
            label="Instalments"
            as="schedule"
            any="as the client's"
            value={typed.paidIn}
            onChange={(paidIn) => set({ paidIn })}
          />
          , shows{" "}
          <SaidChoice
            label="Shows"
            value={typed.shows}
            choices={[
              { value: "prices", label: "every price" },
              { value: "totals", label: "totals only" },
            ]}
            onChange={(shows) => set({ shows })}
          />
          {fault && ["validUntil", "starts", "term", "shownFor", "dueIn", "paidIn"].includes(fault.field) && (
            <span className="refusal" role="alert">
              {" "}
              {fault.sentence}
            </span>
          )}
        </Sentence>
      )}
    </>
  );
}
