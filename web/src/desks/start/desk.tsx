import { clsx } from "clsx";
import { useNavigate } from "react-router";
import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useBeginSession } from "../../api/session";
import { ChoiceField, TextField } from "../../frame/form/fields";
import { Form } from "../../frame/form/form";
import { useTyping } from "../../frame/form/use-typing";
import { Title } from "../../frame/title";
import signInCss from "../sign-in/sign-in.module.css";

type Start = Schema["Start"];

const marks: { value: Start["mark"]; label: string }[] = [
  { value: "point", label: "a point: 1,250.50" },
  { value: "comma", label: "a comma: 1.250,50" },
];

/** What the browser knows of the place. */
const guess = (): Start => {
  const format = new Intl.NumberFormat();
  const mark = format.formatToParts(1.5).find((part) => part.type === "decimal")?.value;
  return {
    firm: "",
    currency: "EUR",
    timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC",
    mark: mark === "," ? "comma" : "point",
    taxName: "VAT",
    taxPercent: "",
    name: "",
    mail: "",
    password: "",
    token: "",
  };
};

/** The first start: the firm, and its first administrator. */
export function StartDesk() {
  const form = useTyping(guess);
  const navigate = useNavigate();
  const beginSession = useBeginSession();
  const begin = useAct(() => api.post("/api/begin", { body: form.typed }), {
    done: (session) => {
      beginSession(session);
      navigate("/set-up");
    },
  });
  return (
    <main className={signInCss.signIn}>
      <Form
        label="Begin"
        className={clsx(signInCss.signInForm, signInCss.start)}
        act={begin}
        ok="Begin"
        onOk={() => begin.mutate()}
      >
        <p className={signInCss.signInName}>
          <b>dorvet</b>
        </p>
        <Title>Begin with your firm</Title>
        <p className="soft">All of this can be changed later, but for the currency.</p>
        <TextField of={form} name="firm" label="Name of the firm" focus />
        <TextField of={form} name="currency" label="Its currency, three letters" />
        <TextField of={form} name="timeZone" label="Its time zone" />
        <ChoiceField of={form} name="mark" label="Decimal mark" options={marks} />
        <TextField of={form} name="taxName" label="Its tax, as it is printed" />
        <TextField of={form} name="taxPercent" label="Standard rate of that tax, %; empty for none" />
        <h2>You, the first administrator</h2>
        <TextField of={form} name="name" label="Your name" autoComplete="name" />
        <TextField of={form} name="mail" label="Your mail address" type="email" autoComplete="username" />
        <TextField
          of={form}
          name="password"
          label="A password, at least 12 characters"
          type="password"
          autoComplete="new-password"
        />
        <TextField
          of={form}
          name="token"
          label="Set-up token, which the server printed when it started"
          autoComplete="off"
        />
      </Form>
    </main>
  );
}
