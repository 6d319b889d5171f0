import { useQueryClient } from "@tanstack/react-query";
import { clsx } from "clsx";
import { Link } from "react-router";
import { shows, useAct } from "../../api/act";
import { api } from "../../api/client";
import { writeHoursAs } from "../../api/hours";
import { useRead } from "../../api/read";
import { type Session, useSession } from "../../api/session";
import { browserName } from "../../frame/browser";
import { instant, long } from "../../frame/days";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Table } from "../../frame/list/table";
import { useNotices } from "../../frame/notices";
import { Pick } from "../../frame/pick";
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
      <HoursForm />
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
      <NoticeMails />
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

/** Whether what one is told goes by mail, too. */
function NoticeMails() {
  const session = useSession();
  const queries = useQueryClient();
  const change = useAct((as: Session["noticeMails"]) => api.put("/api/account/notices", { body: { as } }), {
    done: (_, as) => shows(queries, "/api/session", undefined, { ...session, noticeMails: as }),
  });
  return (
    <p className={sentenceCss.sentence}>
      What you are told goes{" "}
      <Pick
        label="Notices by mail"
        value={session.noticeMails}
        onChange={change.mutate}
        choices={[
          { value: "", label: "not by mail" },
          { value: "once", label: "by mail, too, at once" },
          { value: "daily", label: "by mail, too, as one letter a day" },
        ]}
      />
      <Refused by={change.error} inline />
    </p>
  );
}

/** In which form hours are read, in every desk and whichever browser. */
function HoursForm() {
  const session = useSession();
  const queries = useQueryClient();
  const change = useAct((as: Session["hoursAs"]) => api.put("/api/account/hours", { body: { as } }), {
    done: (_, as) => {
      writeHoursAs(as);
      shows(queries, "/api/session", undefined, { ...session, hoursAs: as });
    },
  });
  return (
    <section aria-label="Hours">
      <h2 className="sub">Hours</h2>
      <p className={sentenceCss.sentence}>
        You read four hours and twelve minutes as{" "}
        <Pick label="How you read hours" value={session.hoursAs} onChange={change.mutate} choices={forms} />
      </p>
      <p className="soft">Both are understood wherever you type. Invoices have decimals.</p>
      <Refused by={change.error} />
    </section>
  );
}

const forms: { value: Session["hoursAs"]; label: string }[] = [
  { value: "decimal", label: "4.2" },
  { value: "clock", label: "4:12" },
  { value: "tenth", label: "4.2, to the tenth in lists and sums" },
  { value: "quarter", label: "4.25, to the quarter in lists and sums" },
];

const nothing = { old: "", password: "" };

function Password() {
  const form = useTyping(nothing);
  const change = useAct(() => api.put("/api/account/password", { body: form.typed }), {
    done: () => form.set(nothing),
  });
  return (
    <Form
      label="Change the password"
      act={change}
      ok="Change the password"
      ready={form.typed.old !== "" && form.typed.password !== ""}
      onOk={() => change.mutate()}
    >
      <TextField of={form} name="old" label="Present password" type="password" autoComplete="current-password" />
      <TextField
        of={form}
        name="password"
        label="New password, at least 12 characters; four words in a row are good"
        type="password"
        autoComplete="new-password"
      />
      {change.isSuccess && <p role="status">Changed. Your other sessions have ended.</p>}
    </Form>
  );
}

function Sessions() {
  const sessions = useRead("/api/account/sessions");
  const end = useAct((id: number) => api.delete("/api/account/sessions/{id}", { path: { id } }));
  return (
    <section aria-label="Sessions">
      <h2 className="sub">Where you are signed in</h2>
      <Table
        headless
        rows={sessions.data ?? []}
        id={(s) => s.id}
        columns={[
          { name: "Since", cell: (s) => `since ${instant(s.began)}` },
          { name: "Address", cell: (s) => s.address },
          {
            name: "Browser",
            tone: () => clsx("soft", tableCss.wraps),
            title: (s) => s.browser,
            cell: (s) => browserName(s.browser),
          },
          {
            name: "End",
            number: true,
            cell: (s) => (s.this ? "this one" : <Do onClick={() => end.mutate(s.id)}>End it</Do>),
          },
        ]}
      />
      <Refused by={end.error} />
    </section>
  );
}
