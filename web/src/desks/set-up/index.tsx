import { Link, useNavigate } from "react-router";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { Folio } from "../../frame/folio";
import { useListKeys } from "../../frame/keys";
import { RecordSheet } from "../../frame/record/sheet";
import sentenceCss from "../../frame/sentence.module.css";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";
import { Logo } from "./logo";
import { useIndex, useListAddress, useWaitingChanges } from "./use-set-up";

/** What is kept in the set-up, with the firm itself beside it. */
export function SetUpIndex() {
  const { firm, role, limited } = useSession();
  const waiting = useWaitingChanges(role === "administrator");
  const index = useIndex();
  const address = useListAddress();
  const navigate = useNavigate();
  const rooms = (index.data ?? []).map((room) => ({ ...room, kinds: room.kinds.filter((k) => k.name !== "firm") }));
  const kinds = rooms.flatMap((room) => room.kinds);
  const current = Math.max(0, address.open);
  const keys = useListKeys(kinds, current, (at) => address.change({ open: String(at) }), {
    Enter: (kind) => navigate(pathOf(kind.name)),
  });
  let at = -1;
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
        <section className={deskCss.sheet} aria-label="What is kept" {...keys}>
          <table className={tableCss.grid}>
            <tbody>
              {rooms.map((room) => [
                <tr key={room.name} className={tableCss.ofClient}>
                  <th scope="colgroup" colSpan={3}>
                    {room.name}
                  </th>
                </tr>,
                ...room.kinds.map((kind) => {
                  at += 1;
                  const index = at;
                  return (
                    <tr
                      key={kind.name}
                      data-row={index}
                      className={index === current ? "current" : ""}
                      onClick={() => navigate(pathOf(kind.name))}
                    >
                      <th scope="row" className={tableCss.indented}>
                        <Link to={pathOf(kind.name)} onClick={(event) => event.stopPropagation()}>
                          {sentenceCase(kind.many)}
                        </Link>
                      </th>
                      <td className="number">{kind.count}</td>
                      <td className="soft">{kind.about}</td>
                    </tr>
                  );
                }),
              ])}
            </tbody>
          </table>
        </section>
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

export const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Clients have a desk of their own. */
const pathOf = (kind: string) => (kind === "clients" ? "/clients" : `/set-up/${kind}`);
