import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import { hours, Moneys, useMoneyText } from "../../frame/figure";
import { SaidChoice, SaidDate, SaidText, Sentence } from "../../frame/sentence";
import { Loss, Tally, TallySum } from "../../frame/tally";
import { EngagementFolio } from "./engagement-folio";
import { useMakeDrafts, useTally, useUnbilled, useWipAddress } from "./use-wip";
import { rowsOf, WorkList } from "./work-list";

/** Everything unbilled, by client and engagement: chosen, added up, made into drafts. */
export function WipDesk() {
  const address = useWipAddress();
  const session = useSession();
  const list = useUnbilled(address.upTo, address.lead, address.client, address.atLeast);
  const everything = useUnbilled(address.upTo, 0, 0, "");
  const rows = rowsOf(list.data?.clients ?? []);
  const shown = new Set(rows.flatMap((row) => (row.work ? [row.work.engagementId] : [])));
  const picked = [...address.picked].filter((id) => shown.has(id));
  const tally = useTally(address.upTo, picked);
  const { make, undo } = useMakeDrafts();
  const [made, setMade] = useState<Schema["Made"][]>([]);
  const open = rows.find((row) => row.work?.engagementId === address.open);
  const makeDrafts = () =>
    make.mutate(
      { upTo: address.upTo, dated: session.today, engagementIds: picked },
      {
        onSuccess: (drafts) => {
          setMade(drafts);
          address.change({ pick: undefined });
        },
      },
    );
  const leads = new Map(everything.data?.clients.flatMap((c) => c.engagements.map((e) => [e.leadId, e.lead] as const)));
  const clients = everything.data?.clients ?? [];
  const drafts = tally.data?.drafts ?? 0;
  const mayBill = session.role === "administrator";
  return (
    <>
      <div className="desk-main">
        <h1>What can be billed</h1>
        <Sentence>
          Everything unbilled up to{" "}
          <SaidDate label="Up to" value={address.upTo} onChange={(upTo) => address.change({ upTo })} />, for{" "}
          <SaidChoice
            label="Lead"
            value={address.lead}
            choices={[{ value: 0, label: "all leads" }, ...[...leads].map(([value, label]) => ({ value, label }))]}
            onChange={(id) => address.change({ lead: id ? String(id) : undefined })}
          />
          , of{" "}
          <SaidChoice
            label="Client"
            value={address.client}
            choices={[
              { value: 0, label: "all clients" },
              ...clients.map((c) => ({ value: c.clientId, label: c.client })),
            ]}
            onChange={(id) => address.change({ client: id ? String(id) : undefined })}
          />
          , worth at least{" "}
          <SaidText
            label="Worth at least"
            value={address.atLeast}
            onChange={(atLeast) => address.change({ atLeast })}
          />
        </Sentence>
        {list.error && (
          <p className="refusal" role="alert">
            {list.error.message}
          </p>
        )}
        <WorkList
          rows={rows}
          totals={list.data?.totals ?? []}
          minutes={list.data?.minutes ?? 0}
          open={address.open}
          picked={new Set(picked)}
          mayPick={mayBill}
          onOpen={(id) => address.change({ open: String(id) })}
          onToggle={address.toggle}
          onMake={() => mayBill && drafts > 0 && makeDrafts()}
        />
      </div>
      <EngagementFolio work={open?.work} client={open?.client} upTo={address.upTo} />
      <Tally
        notice={
          <Notice
            made={made}
            problem={make.error ?? undo.error}
            undoing={undo.isPending}
            onUndo={() => undo.mutate(made, { onSuccess: () => setMade([]) })}
          />
        }
        actions={
          mayBill && (
            <Button type="primary" disabled={drafts === 0} loading={make.isPending} onClick={makeDrafts}>
              {drafts === 0 ? "Make drafts" : `Make ${drafts} ${drafts === 1 ? "draft" : "drafts"}`}
            </Button>
          )
        }
      >
        <TallySum
          figure={`${tally.data?.engagements ?? 0} ${tally.data?.engagements === 1 ? "engagement" : "engagements"}`}
          what={`${drafts} ${drafts === 1 ? "invoice" : "invoices"}`}
        />
        <TallySum figure={`${hours(tally.data?.minutes ?? 0, "0.0")} h`} what={`${tally.data?.entries ?? 0} entries`} />
        <TallySum figure={<Moneys of={tally.data?.standard ?? []} />} what="standard value" />
        <Loss of={tally.data?.noCharge ?? []} what="no charge" />
        <Loss of={tally.data?.rates ?? []} what="agreed rates" />
        <Loss of={tally.data?.overCap ?? []} what="over a cap, stays" />
        <TallySum figure={<Moneys of={tally.data?.net ?? []} />} what="to bill, net" />
        {(tally.data?.withoutRate ?? 0) > 0 && (
          <TallySum lost figure={`${tally.data?.withoutRate} entries`} what="stay, without a rate" />
        )}
      </Tally>
    </>
  );
}

interface NoticeProps {
  made: Schema["Made"][];
  problem: Error | null;
  undoing: boolean;
  onUndo: () => void;
}

/** What was just done, with the way to it and the way back. */
function Notice({ made, problem, undoing, onUndo }: NoticeProps) {
  const money = useMoneyText();
  if (problem) return <span className="refusal">{problem.message}</span>;
  const first = made[0];
  if (!first) return null;
  return (
    <span>
      Made {made.length} {made.length === 1 ? `draft of ${money(first.net)} for ${first.client}` : "drafts"}.{" "}
      <Link to={`/billing/${first.id}`}>Review</Link>{" "}
      <button type="button" className="link" disabled={undoing} onClick={onUndo}>
        Undo
      </button>
    </span>
  );
}
