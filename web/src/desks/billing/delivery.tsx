import { Button } from "antd";
import { lazy, Suspense, useState } from "react";
import { useSession } from "../../api/session";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Copy } from "../../frame/form/copy";
import { Field } from "../../frame/form/form";
import { Table } from "../../frame/list/table";
import type { Column } from "../../frame/list/use-list";
import { Refused } from "../../frame/state";
import { stateWords, wayWords } from "../letters/use-letters";
import { PostedOn } from "./posted-on";
import reviewCss from "./review.module.css";
import type { Invoice } from "./use-billing";
import { type Handing, type Letter, useDelivery, useDeliveryActs } from "./use-delivery";

const LetterForm = lazy(async () => ({ default: (await import("../letters/letter-form")).LetterForm }));

interface Props {
  invoice: Invoice;
  /** Whether the letter is open. */
  sending: boolean;
  onSending: (open: boolean) => void;
}

/** How an invoice reaches its client: who gets it, what was sent, and what became of it. */
export function Delivery({ invoice, sending, onSending }: Props) {
  const { role } = useSession();
  const delivery = useDelivery(invoice.id);
  const acts = useDeliveryActs(invoice.id);
  const mayAct = role === "administrator";
  const standing = delivery.data;
  if (!standing) return null;
  const isDraft = invoice.document.isDraft;
  const [letter] = standing.letters;
  const problem = acts.callBack.error ?? acts.endLinks.error ?? acts.posted.error;
  return (
    <section className={reviewCss.handed} aria-label="Handed over">
      {standing.handings.length > 0 && (
        <Table
          headless
          className={reviewCss.parts}
          caption="Handed over"
          rows={standing.handings}
          columns={columns(mayAct ? acts.callBack.mutate : undefined)}
          id={(handing) => handing.id}
        />
      )}
      <Refused by={problem} />
      {letter && !sending && (
        <p>
          {standing.handings.length === 0 && <Would letter={letter} isDraft={isDraft} />}{" "}
          {mayAct && !isDraft && (
            <>
              <Do onClick={() => onSending(true)}>{standing.handings.length > 0 ? "Send it again" : "Hand it over"}</Do>{" "}
              {standing.handed !== "posted" && ["print", "post"].includes(letter.way) && (
                <PostedOn what="It was" onPosted={acts.posted.mutate} />
              )}
            </>
          )}
        </p>
      )}
      {sending && (
        <Suspense>
          <LetterForm
            of={{ invoice: invoice.id }}
            title={`Hand ${invoice.number} over`}
            onDone={() => onSending(false)}
          />
        </Suspense>
      )}
      {mayAct && !isDraft && <Links invoice={invoice} links={standing.links} />}
    </section>
  );
}

/** Who would get it, and how. */
function Would({ letter, isDraft }: { letter: Letter; isDraft: boolean }) {
  if (letter.problem) return <span className={deskCss.findingBox}>{letter.problem}</span>;
  const to = letter.to.map((one) => `${one.name || one.mail} (${one.whence})`).join(", ");
  return (
    <span>
      {isDraft ? "Once it is issued it goes " : "It goes "}
      <b>{wayWords[letter.way]}</b>
      {letter.way === "mail" && <> to {to}</>}
      <span className="soft">, {letter.wayFrom}</span>.
    </span>
  );
}

const columns = (callBack?: (id: number) => void): Column<Handing>[] => [
  {
    name: "To",
    names: "light",
    cell: (handing) => (
      <>
        {handing.to || handing.mail}
        <span className="under">
          {[
            handing.mail,
            ["receipt", "reminder"].includes(handing.kind) && `a ${handing.kind}`,
            wayWords[handing.way],
            handing.old && "an earlier version",
          ]
            .filter(Boolean)
            .join(", ")}
        </span>
      </>
    ),
  },
  {
    name: "State",
    cell: (handing) => (
      <>
        <span className={handing.state === "failed" ? "lost" : undefined}>{stateWords[handing.state]}</span>
        {handing.fetchedAt ? ", file fetched" : handing.openedAt && ", opened"}
        {handing.problem && <span className="under">{handing.problem}</span>}
        {handing.nextAt && <span className="under">tried again {instant(handing.nextAt)}</span>}
      </>
    ),
  },
  {
    name: "When",
    cell: (handing) => (handing.day ? long(handing.day) : instant(handing.madeAt)),
  },
  {
    name: "Act",
    cell: (handing) =>
      callBack && handing.state === "queued" && <Do onClick={() => callBack(handing.id)}>Call back</Do>,
  },
];

/** Links to the client's page: made to be given by hand, and ended. */
function Links({ invoice, links }: { invoice: Invoice; links: number }) {
  const { link, endLinks } = useDeliveryActs(invoice.id);
  const [shown, show] = useState(false);
  return (
    <>
      <p>
        <Do
          onClick={() => {
            show(true);
            link.mutate("");
          }}
        >
          Make a link to the client's page
        </Do>
        {links > 0 && (
          <>
            {" "}
            <span className="soft">
              {links} {links === 1 ? "link works" : "links work"}
            </span>{" "}
            <Do onClick={() => endLinks.mutate()}>End them</Do>
          </>
        )}
        <Refused by={link.error ?? endLinks.error} inline />
      </p>
      {shown && link.data && (
        <Field label="The link, shown this once">
          <Copy label="The link" value={link.data.link} />{" "}
          <Button size="small" onClick={() => show(false)}>
            Done
          </Button>
        </Field>
      )}
    </>
  );
}
