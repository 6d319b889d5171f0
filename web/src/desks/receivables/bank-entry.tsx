import { Button } from "antd";
import { Link } from "react-router";
import { useSession } from "../../api/session";
import { long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Fact, Facts } from "../../frame/facts";
import { Money, typedNumber } from "../../frame/figure";
import { ChoiceField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import formCss from "../../frame/form/form.module.css";
import { useTyping } from "../../frame/form/use-typing";
import { Refused } from "../../frame/state";
import bankCss from "./bank.module.css";
import { ClientField, EngagementField } from "./client-field";
import { openInvoices, PaidInvoices } from "./paid-invoices";
import { type BankEntry, type EntryProposal, type Said, useAside, useTake, useUndoEntry } from "./use-bank";
import { useOwed } from "./use-receivables";

/** A proposal as it is taken: exactly what was shown. */
export const asProposed = (p: EntryProposal, decimals: Record<string, number>, mark: string): Said => ({
  as: p.as,
  clientId: p.clientId,
  paymentId: p.paymentId,
  requestId: p.requestId,
  transferIds: p.transferIds,
  paidBackId: p.paidBackId,
  on: p.on.map((on) => ({
    invoiceId: on.invoiceId,
    amount: typedNumber(on.amount.minor, decimals[on.amount.currency] ?? 2, mark),
  })),
});

/** What a proposal comes to, in a few words. */
export const wordsOf = (p: EntryProposal) => {
  const on = p.on.map((one) => one.number).join(", ");
  switch (p.as) {
    case "invoices":
      return on || "credit";
    case "funds":
      return "to be held";
    case "met":
      return "recorded already";
    case "returned":
      return "came back";
    case "transfer":
      return "transfer made";
    case "paid_back":
      return "paid back";
  }
};

export type Doing = "" | "split" | "aside";

interface Props {
  entry: BankEntry;
  doing: Doing;
  onDoing: (doing: Doing) => void;
}

/** One entry: what the bank says, what it may be and why, and what can be said of it. */
export function EntryFolio({ entry, doing, onDoing }: Props) {
  const { role, decimals, mark } = useSession();
  const take = useTake();
  const undo = useUndoEntry();
  const may = role === "administrator";
  return (
    <>
      <p className={deskCss.folioOver}>
        {entry.account}, {long(entry.booked)}
      </p>
      <h2>
        <Money of={entry.amount} />
      </h2>
      <Facts>
        <Fact of={entry.amount.minor < 0 ? "To" : "From"}>{entry.party}</Fact>
        <Fact of="Account">{entry.from}</Fact>
        <Fact of="Reference">{entry.reference}</Fact>
        <Fact of="Says">{entry.text}</Fact>
        <Fact of="Came back">{entry.returned}</Fact>
      </Facts>
      {entry.state !== "open" && (
        <>
          <p>
            {entry.state === "aside" ? "Set aside: " : `${entry.client ? `${entry.client}: ` : ""}`}
            {entry.paymentId ? (
              <Link to={`/receivables?show=payments&payment=${entry.paymentId}`}>{entry.said}</Link>
            ) : (
              entry.said
            )}
          </p>
          {may && (
            <p className={formCss.ending}>
              <Do onClick={() => undo.mutate(entry)}>Undo: open it again</Do>
            </p>
          )}
          <Refused by={undo.error} />
        </>
      )}
      {entry.state === "open" && doing === "" && (
        <>
          <h3>What it may be</h3>
          {entry.proposals.length === 0 && <p className="soft">Nothing tells what it is.</p>}
          <ol className={bankCss.proposals}>
            {entry.proposals.map((p, at) => (
              <li key={`${p.as} ${p.paymentId} ${p.reason}`}>
                <Proposal of={p} />
                {may && (
                  <Button
                    size="small"
                    type={at === 0 ? "primary" : "default"}
                    loading={take.isPending}
                    onClick={() => take.mutate({ entry, said: asProposed(p, decimals, mark) })}
                  >
                    Take it
                  </Button>
                )}
              </li>
            ))}
          </ol>
          <Refused by={take.error} />
          {may && (
            <p className={formCss.ending}>
              {entry.amount.minor > 0 && <Do onClick={() => onDoing("split")}>Say what it is</Do>}
              <Do onClick={() => onDoing("aside")}>Nothing of clients</Do>
            </p>
          )}
        </>
      )}
      {entry.state === "open" && doing === "split" && <Split entry={entry} onNo={() => onDoing("")} />}
      {entry.state === "open" && doing === "aside" && <Aside entry={entry} onNo={() => onDoing("")} />}
    </>
  );
}

function Proposal({ of }: { of: EntryProposal }) {
  return (
    <div>
      <b>{of.sureness}</b>
      {of.client && `, ${of.client}`}
      <p className="soft">{of.reason}</p>
      {of.on.map((on) => (
        <p key={on.invoiceId} className={bankCss.on}>
          {on.number} <Money of={on.amount} />
        </p>
      ))}
      {of.credit.minor > 0 && (
        <p className={bankCss.on}>
          credit of the client <Money of={of.credit} />
        </p>
      )}
    </div>
  );
}

const kinds = [
  { value: "invoices", label: "on invoices" },
  { value: "funds", label: "to be held" },
] as const;

/** What an entry is, said by hand: whose it is, and which invoices it pays. */
function Split({ entry, onNo }: { entry: BankEntry; onNo: () => void }) {
  const form = useTyping({
    clientId: entry.proposals[0]?.clientId ?? 0,
    engagementId: 0,
    as: (entry.held ? "funds" : "invoices") as "invoices" | "funds",
    on: {} as Record<number, string>,
  });
  const { clientId, engagementId, as, on } = form.typed;
  const owed = useOwed({ client: clientId || -1, lead: 0, late: 0 });
  const { currency } = entry.amount;
  const invoices = openInvoices(owed.data?.clients.flatMap((c) => c.open) ?? []).filter(
    (one) => one.open.currency === currency,
  );
  const act = useTake();
  const said = {
    as,
    clientId,
    engagementId,
    on: as === "funds" ? [] : Object.entries(on).map(([id, amount]) => ({ invoiceId: Number(id), amount })),
  };
  return (
    <Form
      label="What it is"
      act={act}
      ok={as === "funds" ? "Hold it for them" : "Take it"}
      ready={clientId > 0}
      onOk={() => act.mutate({ entry, said })}
      onNo={onNo}
    >
      <ClientField of={form} />
      <ChoiceField of={form} name="as" label="It is" options={entry.held ? kinds.slice(1) : [...kinds]} />
      {as === "funds" && <EngagementField of={form} />}
      {as === "invoices" && (
        <PaidInvoices
          invoices={invoices}
          on={on}
          onChange={(next) => form.set({ on: next })}
          caption="What is put on no invoice becomes their credit"
        />
      )}
    </Form>
  );
}

const usual = ["fees of the bank", "between our own accounts", "wages", "suppliers", "taxes", "not ours"];

/** What an entry is that is nothing of clients: typed, or one of the usual by its digit. */
function Aside({ entry, onNo }: { entry: BankEntry; onNo: () => void }) {
  const form = useTyping({ as: "" });
  const act = useAside();
  const set = (as: string) => act.mutate({ entry, as });
  return (
    <Form
      label="Nothing of clients"
      act={act}
      ok="Set it aside"
      ready={form.typed.as.trim() !== ""}
      onOk={() => set(form.typed.as)}
      onNo={onNo}
    >
      <TextField
        of={{
          ...form,
          set: ({ as = "" }) => (usual[Number(as) - 1] ? set(usual[Number(as) - 1] ?? "") : form.set({ as })),
        }}
        name="as"
        label="What is it?"
        focus
      />
      <p className={formCss.wide}>
        {usual.map((word, at) => (
          <span key={word}>
            <kbd>{at + 1}</kbd> <Do onClick={() => set(word)}>{word}</Do>{" "}
          </span>
        ))}
      </p>
    </Form>
  );
}
