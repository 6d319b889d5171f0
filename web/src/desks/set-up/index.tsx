import { Link, useNavigate } from "react-router";
import type { Schema } from "../../api/client";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Folio } from "../../frame/folio";
import { List } from "../../frame/list/list";
import { type Column, useList } from "../../frame/list/use-list";
import { RecordSheet } from "../../frame/record/sheet";
import sentenceCss from "../../frame/sentence.module.css";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";
import { Logo } from "./logo";
import { useIndex, useWaitingChanges } from "./use-set-up";

/** What is kept in the set-up, with the firm itself beside it. */
export function SetUpIndex() {
  const { firm, role, limited } = useSession();
  const waiting = useWaitingChanges(role === "administrator");
  const index = useIndex();
  const navigate = useNavigate();
  const rows = (index.data ?? []).flatMap((room) => [
    { room: room.name },
    ...room.kinds.filter((kind) => kind.name !== "firm").map((kind) => ({ room: room.name, kind })),
  ]);
  const list = useList<Row>({
    name: "set-up",
    rows,
    columns,
    id: ({ room, kind }) => kind?.name ?? `room ${room}`,
    text: ({ room, kind }) => (kind ? `${room} ${kind.many} ${kind.about}` : ""),
  });
  return (
    <>
      <div className={deskCss.deskMain}>
        <Title>Set-up of {firm}</Title>
        <p className={sentenceCss.sentence}>
          What the firm works with. Each line opens a list; what is inherited says from where.{" "}
          <Link to="/set-up/look">Look of documents</Link>
          {role === "administrator" && (
            <>
              {" · "}
              <Do onClick={() => navigate("/set-up/import")}>Read from a file…</Do>
            </>
          )}
          {role === "administrator" && limited.length === 0 && (
            <>
              {" · "}
              <Link to="/set-up/security">Security log</Link>
            </>
          )}
          {(waiting.data ?? []).length > 0 && (
            <>
              {" · "}
              <Link to="/set-up/changes" className="ochre">
                Changes that wait for a second administrator, {waiting.data?.length}
              </Link>
            </>
          )}
        </p>
        <List
          main
          label="What is kept"
          list={list}
          read={index}
          across={({ room, kind }) =>
            !kind && (
              <th scope="colgroup" colSpan={columns.length}>
                {room}
              </th>
            )
          }
          tone={({ kind }) => !kind && tableCss.ofClient}
          onOpen={({ kind }) => kind && navigate(pathOf(kind.name))}
          onClick={({ kind }) => kind && navigate(pathOf(kind.name))}
          empty={<p>Nothing is kept here.</p>}
        />
      </div>
      <Folio label="The firm">
        <p className={deskCss.folioOver}>What holds unless a client or an engagement says otherwise</p>
        <h2>{firm}</h2>
        <Logo />
        <RecordSheet kind="firm" id={1} open={["The firm", "Calendar"]} />
      </Folio>
    </>
  );
}

interface Row {
  room: string;
  /** None: the row is the head of its room. */
  kind?: Schema["KindCount"];
}

const columns: Column<Row>[] = [
  {
    name: "List",
    names: "strong",
    tone: () => tableCss.indented,
    cell: ({ kind }) =>
      kind && (
        <Link to={pathOf(kind.name)} onClick={(event) => event.stopPropagation()}>
          {sentenceCase(kind.many)}
        </Link>
      ),
  },
  { name: "How many", number: true, cell: ({ kind }) => kind?.count },
  { name: "What it is", tone: () => "soft", cell: ({ kind }) => kind?.about },
];

export const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Clients have a desk of their own. */
const pathOf = (kind: string) => (kind === "clients" ? "/clients" : `/set-up/${kind}`);
