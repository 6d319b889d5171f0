import { Button, Segmented } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { hoursSaid } from "../../api/hours";
import { useSession } from "../../api/session";
import { instant } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Money, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { Tally, TallySum } from "../../frame/tally";
import { BillsPane } from "./bills-pane";
import { CopyPane } from "./copy-pane";
import { TierGrid } from "./grid";
import { EditorHead } from "./head";
import { LinePane } from "./line-pane";
import { PagePane } from "./page-pane";
import { RecordPane } from "./record-pane";
import { SendPane } from "./send-pane";
import { StoryPane } from "./story-pane";
import { TextsPane } from "./texts-pane";
import { TierFigure } from "./totals";
import {
  addTier,
  type Proposal,
  stateWords,
  type Typed,
  useEditor,
  useProposal,
  useProposalActs,
} from "./use-proposal";

/** One proposal: its grid, and beside it what the client will see of it. */
export function ProposalDesk() {
  const id = Number(useParams().id);
  const proposal = useProposal(id);
  if (proposal.error) return <p className={clsx("refusal", deskCss.pageRefusal)}>{proposal.error.message}</p>;
  if (!proposal.data) return null;
  return <Editor key={id} proposal={proposal.data} />;
}

type Pane = "page" | "line" | "bills" | "texts" | "story" | "send" | "record" | "copy";

const panes = [
  { value: "page", label: "Page" },
  { value: "line", label: "Service" },
  { value: "bills", label: "Bills" },
  { value: "texts", label: "Texts" },
  { value: "story", label: "Story" },
];

function Editor({ proposal }: { proposal: Proposal }) {
  const { role } = useSession();
  const editor = useEditor(proposal);
  const acts = useProposalActs(proposal.id);
  const navigate = useNavigate();
  const [pane, setPane] = useState<Pane>(proposal.state === "draft" ? "page" : "story");
  const [line, setLine] = useState(0);
  const mayChange = role !== "owner";
  const draft = proposal.state === "draft";
  const locked = !draft || !mayChange;
  const stops = editor.grid.findings.filter((finding) => finding.stops);
  const openLine = () => {
    setPane("line");
    requestAnimationFrame(() => document.querySelector<HTMLElement>(".line-pane input, .line-pane button")?.focus());
  };
  const shared = { proposal, typed: editor.typed, grid: editor.grid, locked, commit: editor.commit };
  return (
    <>
      <div className={deskCss.deskMain}>
        <EditorHead {...shared} fault={editor.fault} />
        <TierGrid
          {...shared}
          fault={editor.fault}
          preview={editor.preview}
          line={line}
          onLine={setLine}
          onOpenLine={openLine}
        />
      </div>
      <Folio label="Beside the grid">
        {pane === "send" || pane === "record" || pane === "copy" ? (
          <Do onClick={() => setPane("page")}>Back</Do>
        ) : (
          <Segmented
            className={deskCss.panes}
            block
            size="small"
            options={panes}
            value={pane}
            onChange={(next) => setPane(next as Pane)}
          />
        )}
        {pane === "page" && <PagePane proposal={proposal} />}
        {pane === "line" && <LinePane {...shared} fault={editor.fault} at={line} />}
        {pane === "bills" && <BillsPane proposal={proposal} />}
        {pane === "texts" && <TextsPane {...shared} fault={editor.fault} />}
        {pane === "story" && <StoryPane proposal={proposal} mayChange={mayChange} />}
        {pane === "send" && <SendPane proposal={proposal} onDone={() => setPane("story")} />}
        {pane === "record" && <RecordPane proposal={proposal} onDone={() => setPane("story")} />}
        {pane === "copy" && <CopyPane proposal={proposal} onMade={(made) => navigate(`/pricing/${made}`)} />}
      </Folio>
      <Tally
        notice={
          editor.fault ? (
            <span className="refusal">{editor.fault.sentence}</span>
          ) : editor.undo ? (
            <Undo {...editor.undo} onUndo={(was) => editor.commit(() => was)} />
          ) : (
            draft && stops[0] && <span className="refusal">{stops[0].sentence}</span>
          )
        }
        actions={
          mayChange && (
            <>
              {draft && (
                <Button
                  disabled={editor.typed.tiers.length >= 5}
                  onClick={() => editor.commit(addTier(lastTier(shared)))}
                >
                  Copy a tier
                </Button>
              )}
              {(draft || proposal.state === "sent" || proposal.state === "seen") && (
                <Button onClick={() => setPane("record")}>Record acceptance</Button>
              )}
              {!draft && <Button onClick={() => setPane("copy")}>New from this</Button>}
              {(draft || proposal.state === "sent" || proposal.state === "seen") && (
                <Button type="primary" disabled={draft && stops.length > 0} onClick={() => setPane("send")}>
                  {draft ? "Send" : "Send again"}
                </Button>
              )}
            </>
          )
        }
      >
        <Standing proposal={proposal} saving={editor.saving} />
        {acts.send.error && <TallySum lost figure="" what={acts.send.error.message} />}
        {proposal.answer?.firstYear ? (
          <TallySum figure={<Money of={proposal.answer.firstYear} />} what="agreed, first year net" />
        ) : (
          <TierSums proposal={proposal} grid={editor.grid} suggested={editor.typed.suggested} />
        )}
      </Tally>
    </>
  );
}

function Undo({ words, was, onUndo }: { words: string; was: Typed; onUndo: (was: Typed) => void }) {
  return (
    <span>
      {words} <Do onClick={() => onUndo(was)}>Undo</Do>
    </span>
  );
}

const lastTier = ({ typed }: { typed: Proposal["grid"]["typed"] }) =>
  typed.suggested > 0 ? typed.suggested - 1 : typed.tiers.length - 1;

function Standing({ proposal, saving }: { proposal: Proposal; saving: boolean }) {
  const draft = proposal.state === "draft";
  return (
    <TallySum
      figure={draft ? `Draft, version ${proposal.draft}` : `${proposal.number}, ${stateWords[proposal.state]}`}
      what={saving ? "saving …" : `saved ${instant(proposal.savedAt).split(", ")[1]}`}
    />
  );
}

interface SumsProps {
  proposal: Proposal;
  grid: Proposal["grid"];
  suggested: number;
}

function TierSums({ proposal, grid, suggested }: SumsProps) {
  const money = useMoneyText();
  const at = Math.max(suggested - 1, 0);
  const fact = grid.tiers[at];
  if (!fact) return null;
  const opens = (name: string, figure: string, label: string) => (
    <TierFigure proposal={proposal} tier={at} name={name} figure={figure} label={label} />
  );
  return (
    <>
      <TallySum
        figure={opens("firstYear", money(fact.firstYear), "First year")}
        what={`${grid.typed.tiers[at]?.name || "First year"}, first year net`}
      />
      {fact.minutes > 0 && (
        <>
          {fact.cost ? (
            <TallySum
              figure={opens("cost", money(fact.cost), "Cost")}
              what={`cost of ${hoursSaid(fact.minutes)} expected`}
            />
          ) : (
            <TallySum figure={hoursSaid(fact.minutes)} what="expected" />
          )}
          {fact.margin && <TallySum figure={opens("earns", `${fact.margin} %`, "Margin")} what="margin" />}
        </>
      )}
    </>
  );
}
