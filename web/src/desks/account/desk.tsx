import { Button, Input } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { Link } from "react-router";
import { useAct } from "../../api/act";
import { api, Problem } from "../../api/client";
import { useRead } from "../../api/read";
import { useSession } from "../../api/session";
import { browserName } from "../../frame/browser";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";
import { useNotices } from "../../frame/notices";
import sentenceCss from "../../frame/sentence.module.css";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";
import accountCss from "./account.module.css";
import { SecondFactor } from "./second-factor";

/** One's own account: what one is told, the password, the second factor, and where one is signed in. */
export function AccountDesk() {
  const session = useSession();
  return (
    <div className={clsx(deskCss.deskMain, deskCss.scrolls, accountCss.account)}>
      <Title>{session.name}</Title>
      <p className={sentenceCss.sentence}>
        Signed in as {session.role} of {session.firm}.
      </p>
      <Notices />
      <section aria-label="Password">
        <h2 className="sub">Password</h2>
        <Password />
      </section>
      <section aria-label="Second factor">
        <h2 className="sub">Second factor</h2>
        <SecondFactor />
      </section>
      <Sessions />
    </div>
  );
}

function Notices() {
  const notices = useNotices();
  const away = useAct((id: number) => api.delete("/api/notices/{id}", { path: { id } }));
  return (
    <section aria-label="Notices">
      <h2 className="sub">Notices</h2>
      {notices.data?.length === 0 && <p className="soft">Nothing to tell.</p>}
      <ul className={tableCss.plainList}>
        {(notices.data ?? []).map((n) => (
          <li key={n.id}>
            {n.engagementId ? <Link to={`/engagements/${n.engagementId}`}>{n.sentence}</Link> : n.sentence}{" "}
            <span className="soft">{long(n.day)}</span> <Do onClick={() => away.mutate(n.id)}>Put away</Do>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Password() {
  const [typed, setTyped] = useState({ old: "", password: "" });
  const change = useAct(() => api.put("/api/account/password", { body: typed }), {
    done: () => setTyped({ old: "", password: "" }),
  });
  const problem = change.error instanceof Problem ? change.error : null;
  const field = (name: "old" | "password", label: string, auto: string) => (
    <label htmlFor={`account-${name}`}>
      {label}
      <Input.Password
        id={`account-${name}`}
        autoComplete={auto}
        value={typed[name]}
        onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      />
      {problem?.field === name && <span className="refusal">{problem.message}</span>}
    </label>
  );
  return (
    <form
      className={formCss.newRecord}
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate();
      }}
    >
      {field("old", "Present password", "current-password")}
      {field("password", "New password, at least 12 characters; four words in a row are good", "new-password")}
      {problem && !problem.field && <p className="refusal">{problem.message}</p>}
      {change.isSuccess && <p role="status">Changed. Your other sessions have ended.</p>}
      <p className={formCss.newActs}>
        <Button htmlType="submit" disabled={!typed.old || !typed.password} loading={change.isPending}>
          Change the password
        </Button>
      </p>
    </form>
  );
}

function Sessions() {
  const sessions = useRead("/api/account/sessions");
  const end = useAct((id: number) => api.delete("/api/account/sessions/{id}", { path: { id } }));
  return (
    <section aria-label="Sessions">
      <h2 className="sub">Where you are signed in</h2>
      <table className={tableCss.grid}>
        <tbody>
          {(sessions.data ?? []).map((s) => (
            <tr key={s.id}>
              <td>since {instant(s.began)}</td>
              <td>{s.address}</td>
              <td className={clsx("soft", tableCss.wraps)} title={s.browser}>
                {browserName(s.browser)}
              </td>
              <td className="number">{s.this ? "this one" : <Do onClick={() => end.mutate(s.id)}>End it</Do>}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Refused by={end.error} />
    </section>
  );
}
