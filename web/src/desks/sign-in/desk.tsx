import { Navigate, useNavigate, useSearchParams } from "react-router";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useRead } from "../../api/read";
import { useBeginSession } from "../../api/session";
import { Do } from "../../frame/do";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Table } from "../../frame/list/table";
import { Title } from "../../frame/title";
import signInCss from "./sign-in.module.css";

/** Only addresses of this application are gone to after the sign-in. */
const safe = (to: string | null) => (to?.startsWith("/") && !to.startsWith("//") ? to : "/");

export function SignIn() {
  const form = useTyping({ mail: "", password: "", code: "" });
  const navigate = useNavigate();
  const begin = useBeginSession();
  const [search] = useSearchParams();
  const welcome = useRead("/api/welcome");
  const { code, ...typed } = form.typed;
  const signIn = useAct(() => api.post("/api/session", { body: { ...typed, ...(code && { code }) } }), {
    done: (session) => {
      begin(session);
      navigate(safe(search.get("to")));
    },
  });
  const accounts = welcome.data?.accounts ?? [];
  if (welcome.data && !welcome.data.begun) return <Navigate to="/start" replace />;
  return (
    <main className={signInCss.signIn}>
      <section className={signInCss.signInForm}>
        <p className={signInCss.signInName}>
          <b>dorvet</b> {welcome.data?.firm}
        </p>
        <Title>Sign in</Title>
        <Form label="Sign in" act={signIn} ok="Sign in" onOk={() => signIn.mutate()}>
          <TextField of={form} name="mail" label="Mail address" type="email" autoComplete="username" focus />
          <TextField of={form} name="password" label="Password" type="password" autoComplete="current-password" />
          {(signIn.field === "code" || code) && (
            <TextField
              of={form}
              name="code"
              label="Code of your device, or a recovery code"
              autoComplete="one-time-code"
              focus
            />
          )}
        </Form>
      </section>
      {accounts.length > 0 && (
        <section className={signInCss.signInAccounts} aria-label="Accounts of the demo">
          <h2>Accounts of the demo</h2>
          <p className="soft">An invented firm, to practise on. Choosing one fills the form.</p>
          <Table
            rows={accounts}
            id={(account) => account.mail}
            columns={[
              {
                name: "Role",
                cell: ({ role, mail, password }) => <Do onClick={() => form.set({ mail, password })}>{role}</Do>,
              },
              { name: "Mail address", cell: ({ mail }) => mail },
              { name: "Password", cell: ({ password }) => password },
            ]}
          />
        </section>
      )}
    </main>
  );
}
