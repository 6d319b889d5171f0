import { Link, useLocation, useNavigate } from "react-router";
import { useAct } from "../../api/act";
import { api } from "../../api/client";
import { useRead } from "../../api/read";
import { useBeginSession } from "../../api/session";
import { TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Title } from "../../frame/title";
import signInCss from "../sign-in/sign-in.module.css";

/** Who was invited chooses a password here; the secret stands after the #, so that no server log has it. */
export function WelcomeDesk() {
  const secret = useLocation().hash.slice(1);
  const form = useTyping({ password: "" });
  const navigate = useNavigate();
  const begin = useBeginSession();
  const invited = useRead("/api/invitation", { secret });
  const accept = useAct(() => api.post("/api/invitation", { secret, body: form.typed }), {
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
          <Form label="Welcome" act={accept} ok="Keep it and go in" onOk={() => accept.mutate()}>
            <Title>Welcome, {invited.data.name}</Title>
            <p className="soft">You sign in as {invited.data.mail}.</p>
            <TextField
              of={form}
              name="password"
              label="Choose a password, at least 12 characters; four words in a row are good"
              type="password"
              autoComplete="new-password"
              focus
            />
          </Form>
        )}
      </section>
    </main>
  );
}
