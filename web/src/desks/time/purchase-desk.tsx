import { Button, Popconfirm } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { Problem, Schema } from "../../api/client";
import { type Session, useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Money, Sums, useMoneyText } from "../../frame/figure";
import { Folio } from "../../frame/folio";
import { History } from "../../frame/history";
import { Tally, TallySum } from "../../frame/tally";
import { Title } from "../../frame/title";
import { useSettled } from "../../frame/use-settled";
import { Attachments } from "./attachments";
import { PurchaseHead } from "./purchase-head";
import { ShareDetail } from "./share-detail";
import { ShareGrid } from "./share-grid";
import { TimeViews } from "./time-views";
import {
  type Purchase,
  type TypedPurchase,
  type TypedShare,
  typedAgain,
  usePurchase,
  usePurchaseActs,
  useReckoning,
} from "./use-purchase";
import { useChoices } from "./use-week";

/** A new purchase, or one that is there. */
export function PurchaseDesk() {
  const { id = "new" } = useParams();
  const number = id === "new" ? 0 : Number(id);
  const purchase = usePurchase(number);
  const choices = useChoices();
  if (purchase.error) return <p className={clsx("refusal", deskCss.pageRefusal)}>{purchase.error.message}</p>;
  if (!choices.data || (number && purchase.data?.id !== number)) return null;
  return <Editor key={id} before={number ? purchase.data : undefined} choices={choices.data} />;
}

const blankShare: TypedShare = { engagementId: 0, amount: "", treatment: "billable" };

const blank = (session: Session, engagementId: number): TypedPurchase => ({
  personId: session.personId,
  categoryId: 0,
  day: session.today,
  supplier: "",
  text: "",
  amount: "",
  paidBy: "firm",
  files: [],
  shares: [{ ...blankShare, engagementId }],
});

/** A share that says nothing yet: it is not sent, unless it is the only one. */
const isEmpty = (share: TypedShare) => !share.engagementId && !share.amount && !share.text && !share.note && !share.id;

/**
 * What is sent: an empty last share is the offer of another, not one. On a share that is there an empty mark-up means
 * none; who does not see mark-ups leaves them as they are.
 */
const sent = (typed: TypedPurchase, seesValues: boolean): TypedPurchase => {
  const shares = typed.shares.filter((s, at) => at === 0 || !isEmpty(s));
  const meant = (s: TypedShare): TypedShare => {
    if (!s.engagementId) return { ...s, treatment: "not_billable" };
    return s.id && seesValues ? { ...s, markup: s.markup?.trim() || "0" } : s;
  };
  return { ...typed, shares: shares.map(meant) };
};

function Editor({ before, choices }: { before?: Purchase; choices: Schema["Choices"] }) {
  const session = useSession();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const [typed, setTyped] = useState<TypedPurchase>(() =>
    before ? typedAgain(before, session) : blank(session, Number(search.get("engagement") ?? 0)),
  );
  const [at, setAt] = useState(0);
  const acts = usePurchaseActs();
  const set = (part: Partial<TypedPurchase>) => {
    acts.save.reset();
    setTyped((now) => ({ ...now, ...part }));
  };
  const body = sent(typed, session.seesValues);
  const reckoning = useReckoning(useSettled(body, 200), before?.id);
  const readOnly = before !== undefined && !before.mayChange;
  const problem = (acts.save.error ?? acts.remove.error) as Problem | null;
  const save = (another: boolean) =>
    acts.save.mutate(
      { before, typed: body },
      {
        onSuccess: (kept) => {
          if (another) {
            setTyped({ ...blank(session, 0), day: typed.day, categoryId: typed.categoryId });
            acts.save.reset();
          } else navigate(`/time/expenses?people=${kept.personId}&from=any`);
        },
      },
    );
  return (
    <>
      <div className={clsx("purchase", deskCss.deskMain)}>
        <Title views={<TimeViews />}>
          {before ? before.text || before.supplier || before.category : "A new expense"}
        </Title>
        <PurchaseHead typed={typed} choices={choices} problem={problem} readOnly={readOnly} onChange={set} />
        <ShareGrid
          typed={typed}
          before={before}
          choices={choices}
          reckoning={reckoning.data}
          problem={problem}
          readOnly={readOnly}
          at={at}
          onAt={setAt}
          onChange={(shares) => set({ shares })}
          blank={blankShare}
        />
        {(problem ?? (reckoning.error as Problem | null)) && (
          <p className="refusal" role="alert">
            {(problem ?? reckoning.error)?.message}
          </p>
        )}
      </div>
      <Folio label="Receipt">
        <h2>Receipt</h2>
        <Attachments
          files={typed.files ?? []}
          readOnly={readOnly}
          words="Attach the receipt"
          onChange={(files) => set({ files })}
        />
        {typed.files?.length === 0 && <p className="soft">A picture or a PDF, up to 20 MB; it is shown here.</p>}
        {typed.shares[at] && (
          <ShareDetail
            key={at}
            share={typed.shares[at]}
            number={at + 1}
            worth={reckoning.data?.shares[at]}
            readOnly={readOnly || before?.shares.find((s) => s.id === typed.shares[at]?.id)?.locked === true}
            onChange={(part) => set({ shares: typed.shares.map((s, i) => (i === at ? { ...s, ...part } : s)) })}
          />
        )}
        {before && <History subject="purchases" id={before.id} />}
      </Folio>
      <PurchaseTally
        before={before}
        shares={body.shares.length}
        reckoning={reckoning.error ? undefined : reckoning.data}
        readOnly={readOnly}
        busy={acts.save.isPending}
        ready={typed.categoryId > 0}
        onSave={save}
        onRemove={() => before && acts.remove.mutate(before, { onSuccess: () => navigate("/time/expenses") })}
      />
    </>
  );
}

interface TallyProps {
  before?: Purchase;
  shares: number;
  reckoning?: Schema["Reckoning"];
  readOnly: boolean;
  busy: boolean;
  ready: boolean;
  onSave: (another: boolean) => void;
  onRemove: () => void;
}

function PurchaseTally({ before, shares, reckoning, readOnly, busy, ready, onSave, onRemove }: TallyProps) {
  const money = useMoneyText();
  const left = reckoning?.left;
  const cost = reckoning?.cost;
  const words = shares > 1 ? `${shares} shares` : "the expense";
  return (
    <Tally
      actions={
        !readOnly && (
          <>
            {before && (
              <Popconfirm
                title={`Remove this purchase of ${money(before.cost)} with all its shares?`}
                okText={`Remove ${money(before.cost)}`}
                cancelText="Keep it"
                onConfirm={onRemove}
              >
                <Button danger>Remove it</Button>
              </Popconfirm>
            )}
            {!before && (
              <Button disabled={!ready} loading={busy} onClick={() => onSave(true)}>
                Save and new
              </Button>
            )}
            <Button type="primary" disabled={!ready} loading={busy} onClick={() => onSave(false)}>
              {cost ? `Save ${words} of ${money(cost)}` : "Save"}
            </Button>
          </>
        )
      }
    >
      <TallySum figure={cost ? <Money of={cost} /> : "–"} what="cost to share out" />
      {left && (
        <TallySum
          figure={
            <Sums
              label="Left over"
              zero="0.00"
              parts={[
                { of: "Cost", amount: cost },
                ...reckoning.shares.map((share, at) => ({
                  of: `Share ${at + 1}`,
                  amount: share.cost && { ...share.cost, minor: -share.cost.minor },
                })),
              ]}
            />
          }
          what={left.minor < 0 ? "shared out too much" : "left over"}
          lost={left.minor !== 0}
        />
      )}
    </Tally>
  );
}
