import { Button, Input } from "antd";
import { useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useRead } from "../../api/read";
import { useBeginSession } from "../../api/session";
import formCss from "../../frame/form/form.module.css";
import { Refused } from "../../frame/state";
import { Title } from "../../frame/title";
import signInCss from "../sign-in/sign-in.module.css";

/** Who was invited chooses a password here; the secret stands after the #, so that no server log has it. */
export function WelcomeDesk() {
  const secret = useLocation().hash.slice(1);
  const [password, setPassword] = useState("");
  const navigate = useNavigate();
  const begin = useBeginSession();
  const invited = useRead("/api/invitation", { secret });
  const accept = useAct(() => api.post("/api/invitation", { secret, body: { password } }), {
    done: (session) => {
      begin(session);
      navigate("/");
    },
  });
  return (
    <main className={signInCss.signIn}>
      <section className={signInCss.signInForm}>
        <p className={signInCss.signInName}>
          <b>dorvet</b> {invited.data?.firm}
        </p>
        {invited.error && (
          <>
            <Title>This link is used up</Title>
            <p className="refusal">{invited.error.message}</p>
            <Link to="/sign-in">Sign in</Link>
          </>
        )}
        {invited.data && (
          <form
            className={formCss.newRecord}
            onSubmit={(event) => {
              event.preventDefault();
              accept.mutate();
            }}
          >
            <Title>Welcome, {invited.data.name}</Title>
            <p className="soft">You sign in as {invited.data.mail}.</p>
            <label htmlFor="welcome-password">
              Choose a password, at least 12 characters; four words in a row are good
              <Input.Password
                id="welcome-password"
                autoFocus
                autoComplete="new-password"
                value={password}
                onChange={(event) => setPassword(event.target.value)}
              />
            </label>
            <Refused by={accept.error} />
            <Button type="primary" htmlType="submit" block loading={accept.isPending}>
              Keep it and go in
            </Button>
          </form>
        )}
      </section>
    </main>
  );
}
