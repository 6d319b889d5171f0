import { Button, Form, Input } from "antd";
import { Navigate, useNavigate, useSearchParams } from "react-router";
import { useAct } from "../../api/act";
import { api, Problem } from "../../api/client";
import { useRead } from "../../api/read";
import { useBeginSession } from "../../api/session";
import { Do } from "../../frame/do";
import { Refused } from "../../frame/state";
import tableCss from "../../frame/table.module.css";
import { Title } from "../../frame/title";
import signInCss from "./sign-in.module.css";

interface Typed {
  mail: string;
  password: string;
  code?: string;
}

/** Only addresses of this application are gone to after the sign-in. */
const safe = (to: string | null) => (to?.startsWith("/") && !to.startsWith("//") ? to : "/");

export function SignIn() {
  const [form] = Form.useForm<Typed>();
  const navigate = useNavigate();
  const begin = useBeginSession();
  const [search] = useSearchParams();
  const welcome = useRead("/api/welcome");
  const signIn = useAct((typed: Typed) => api.post("/api/session", { body: typed }), {
    done: (session) => {
      begin(session);
      navigate(safe(search.get("to")));
    },
  });
  const accounts = welcome.data?.accounts ?? [];
  const asksCode = signIn.error instanceof Problem && signIn.error.field === "code";
  if (welcome.data && !welcome.data.begun) return <Navigate to="/start" replace />;
  return (
    <main className={signInCss.signIn}>
      <section className={signInCss.signInForm}>
        <p className={signInCss.signInName}>
          <b>dorvet</b> {welcome.data?.firm}
        </p>
        <Title>Sign in</Title>
        <Form
          form={form}
          name="signin"
          layout="vertical"
          requiredMark={false}
          onFinish={(typed) => signIn.mutate(typed)}
        >
          <Form.Item label="Mail address" name="mail" rules={[{ required: true, message: "Give your mail address." }]}>
            <Input autoFocus autoComplete="username" inputMode="email" />
          </Form.Item>
          <Form.Item label="Password" name="password" rules={[{ required: true, message: "Give your password." }]}>
            <Input.Password autoComplete="current-password" />
          </Form.Item>
          {(asksCode || signIn.variables?.code) && (
            <Form.Item label="Code of your device, or a recovery code" name="code">
              <Input autoFocus autoComplete="one-time-code" />
            </Form.Item>
          )}
          <Refused by={signIn.error} />
          <Button type="primary" htmlType="submit" block loading={signIn.isPending}>
            Sign in
          </Button>
        </Form>
      </section>
      {accounts.length > 0 && (
        <section className={signInCss.signInAccounts} aria-label="Accounts of the demo">
          <h2>Accounts of the demo</h2>
          <p className="soft">An invented firm, to practise on. Choosing one fills the form.</p>
          <table className={tableCss.grid}>
            <thead>
              <tr>
                <th scope="col">Role</th>
                <th scope="col">Mail address</th>
                <th scope="col">Password</th>
              </tr>
            </thead>
            <tbody>
              {accounts.map((account) => (
                <tr key={account.mail}>
                  <td>
                    <Do onClick={() => form.setFieldsValue(account)}>{account.role}</Do>
                  </td>
                  <td>{account.mail}</td>
                  <td>{account.password}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </main>
  );
}
