import { Button } from "antd";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";
import { instant } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Folio } from "../../frame/folio";
import { text } from "../../frame/list/columns";
import { List } from "../../frame/list/list";
import { Table } from "../../frame/list/table";
import { type Column, useList } from "../../frame/list/use-list";
import sentenceCss from "../../frame/sentence.module.css";
import { Refused } from "../../frame/state";
import { Title } from "../../frame/title";
import pricingCss from "../pricing/pricing.module.css";

const columns: Column<Schema["Delivered"]>[] = [
  text("Subject", (mail) => mail.subject, { names: "strong" }),
  text("To", (mail) => mail.to),
  text("When", (mail) => mail.at, { whole: true, cell: (mail) => instant(mail.at), title: undefined }),
];

/** The mails that the mail stand-in keeps, as they went out: nothing of them leaves this machine. */
export function MailsDesk() {
  const mails = useRead("/api/mails", undefined, { every: 5_000 });
  const rows = mails.data ?? [];
  const list = useList({
    name: "mails",
    rows,
    columns,
    id: (mail) => mail.name,
    text: (mail) => `${mail.subject} ${mail.to}`,
  });
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>Mails</Title>
        <p className={sentenceCss.sentence}>
          Everything that was mailed from here. The mail stand-in keeps it and sends nothing on.
        </p>
        <Undelivered />
        <List
          main
          label="Mails"
          list={list}
          read={mails}
          empty={<p>No mail yet. Send a proposal, and its mail stands here.</p>}
        />
      </div>
      <Folio label="Mail">{list.row && <Mail name={list.row.name} />}</Folio>
    </>
  );
}

/** What the mail server did not take: when it is tried again, and sending it again by hand. */
function Undelivered() {
  const mails = useRead("/api/mails/undelivered", undefined, { every: 5_000 });
  const again = useAct((id: number) => api.post("/api/mails/undelivered/{id}/again", { path: { id } }));
  if (mails.error) return <p className="refusal">{mails.error.message}</p>;
  if (!mails.data?.length) return null;
  return (
    <section aria-label="Not delivered">
      <h2>Not delivered</h2>
      <Refused by={again.error} />
      <Table
        rows={mails.data}
        id={(mail) => mail.id}
        columns={[
          { name: "Subject", names: "strong", cell: (mail) => mail.subject },
          { name: "To", cell: (mail) => mail.to },
          { name: "Why", cell: (mail) => mail.problem },
          {
            name: "Next try",
            whole: true,
            cell: (mail) => (mail.nextAt ? instant(mail.nextAt) : <span className="lost">given up</span>),
          },
          {
            name: "By hand",
            cell: (mail) => (
              <Button size="small" loading={again.isPending} onClick={() => again.mutate(mail.id)}>
                Send again
              </Button>
            ),
          },
        ]}
      />
    </section>
  );
}

function Mail({ name }: { name: string }) {
  const mail = useRead("/api/mails/{name}", { path: { name } });
  if (!mail.data) return null;
  const { subject, from, to, text, attachments } = mail.data;
  return (
    <article className={pricingCss.mailPreview}>
      <p className={deskCss.folioOver}>
        From {from}
        <br />
        To {to}
      </p>
      <h2>{subject}</h2>
      <p>
        {text.split(/(https?:\/\/\S+)/).map((part, at) =>
          at % 2 === 1 ? (
            // biome-ignore lint/suspicious/noArrayIndexKey: a text does not move
            <a key={at} href={part} target="_blank" rel="noreferrer">
              {part}
            </a>
          ) : (
            part
          ),
        )}
      </p>
      {attachments.map((file) => (
        <p className="soft" key={file}>
          Attached: {file}
        </p>
      ))}
    </article>
  );
}
