import { Button } from "antd";
import { useState } from "react";
import { Do } from "../../frame/do";
import { Money, useMoneyText } from "../../frame/figure";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { acting, money as amount, text } from "../../frame/list/columns";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { HandLine } from "./hand-line";
import reviewCss from "./review.module.css";
import { changes, type Invoice, type useDraftActs, useDraftChange } from "./use-billing";

type Acts = ReturnType<typeof useDraftActs>;
type Work = Invoice["around"]["engagements"][number];

type Charge = Invoice["around"]["charges"][number];
type Advance = Invoice["around"]["advances"][number];

const agreed: Column<Charge>[] = [
  text("Charge", (charge) => charge.text, {
    names: "light",
    cell: (charge) => (
      <>
        {charge.text}
        <span className="under">
          {charge.when}
          {charge.due && ", due"}
        </span>
      </>
    ),
  }),
  amount("Amount", (charge) => charge.amount, {
    cell: (charge) => (charge.open ? <span className="soft">when billed</span> : <Money of={charge.amount} />),
  }),
];

const ahead: Column<Advance>[] = [
  text("Invoice", (advance) => advance.number, { names: "light" }),
  amount("Left", (advance) => advance.left),
];

/** Fees that can stand on the draft: progress on fixed fees, charges of the plan, advances and what comes back of them. */
export function FeesPane({ invoice, acts, mayEdit }: { invoice: Invoice; acts: Acts; mayEdit: boolean }) {
  const { engagements, charges, advances } = invoice.around;
  const [advancing, setAdvancing] = useState(false);
  const fees = engagements.filter((work) => work.fee);
  const put = (label: string, words: string, change: Parameters<typeof acts.change.mutate>[0]) => (
    <Button size="small" type="text" aria-label={label} onClick={() => acts.change.mutate(change)}>
      {words}
    </Button>
  );
  return (
    <div className={reviewCss.pane}>
      {fees.map((work) => (
        <Fee key={work.id} invoice={invoice} work={work} mayEdit={mayEdit && work.fixed} />
      ))}
      {fees.length === 0 && <p className="soft">No engagement here has a fixed fee or a cap.</p>}
      {charges.length > 0 && (
        <Table
          headless
          caption="Agreed, and not billed yet"
          rows={charges}
          id={(charge) => charge.id}
          columns={[
            ...agreed,
            acting<Charge>((charge) => mayEdit && put(`Put on ${charge.text}`, "Put on", changes.charge(charge.id))),
          ]}
        />
      )}
      {advances.length > 0 && (
        <Table
          headless
          caption="Invoiced ahead, not taken back yet"
          rows={advances}
          id={(advance) => advance.lineId}
          columns={[
            ...ahead,
            acting<Advance>(
              (advance) => mayEdit && put(`Take back ${advance.number}`, "Take back", changes.takeBack(advance.lineId)),
            ),
          ]}
        />
      )}
      {mayEdit &&
        (advancing ? (
          <HandLine
            invoice={invoice}
            advance
            onSave={(typed) => acts.change.mutateAsync(changes.addLine(typed))}
            onDone={() => setAdvancing(false)}
          />
        ) : (
          <p>
            <Do onClick={() => setAdvancing(true)}>Invoice an advance</Do>{" "}
            <span className="soft">taxed now, and taken off the final bill</span>
          </p>
        ))}
    </div>
  );
}

function Fee({ invoice, work, mayEdit }: { invoice: Invoice; work: Work; mayEdit: boolean }) {
  const change = useDraftChange(invoice);
  const money = useMoneyText();
  const form = useTyping({ text: "" });
  const bill = () =>
    change.mutate(changes.progress(work.id, form.typed.text), { onSuccess: () => form.set({ text: "" }) });
  return (
    <section className="fee" aria-label={work.name}>
      <h2 className="sub">{work.name}</h2>
      <p>
        {work.capped ? "Cap" : "Fee"} {work.fee && money(work.fee)}, <Money of={work.billed} zero="nothing" /> of it
        billed or on drafts
        {work.fixed && (
          <>
            . Issued fees cover time of <Money of={work.covered} zero="nothing" /> at standard:{" "}
            <span className={work.variance.minor < 0 ? "lost" : ""}>
              variance <Money of={work.variance} zero="none" />
            </span>
          </>
        )}
        .
      </p>
      {mayEdit && (
        <Form
          label={`Progress of ${work.name}`}
          act={change}
          ok="Bill progress"
          ready={form.typed.text !== ""}
          onOk={bill}
        >
          <TextField of={form} name="text" label="Bill" placeholder="60% or 1200.00" />
        </Form>
      )}
    </section>
  );
}
