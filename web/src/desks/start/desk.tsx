import { Button, Input, Select } from "antd";
import { clsx } from "clsx";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useAct } from "../../api/act";
import { api, Problem, type Schema } from "../../api/client";
import { useBeginSession } from "../../api/session";
import formCss from "../../frame/form/form.module.css";
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
  const [typed, setTyped] = useState(guess);
  const navigate = useNavigate();
  const beginSession = useBeginSession();
  const begin = useAct(() => api.post("/api/begin", { body: typed }), {
    done: (session) => {
      beginSession(session);
      navigate("/set-up");
    },
  });
  const problem = begin.error instanceof Problem ? begin.error : null;
  const set = (part: Partial<Start>) => setTyped({ ...typed, ...part });
  const field = (name: keyof Start, label: string, more: object = {}) => (
    <label htmlFor={`start-${name}`}>
      {label}
      <Input
        id={`start-${name}`}
        value={typed[name]}
        onChange={(event) => set({ [name]: event.target.value })}
        {...more}
      />
      {problem?.field === name && <span className="refusal">{problem.message}</span>}
    </label>
  );
  return (
    <main className={signInCss.signIn}>
      <form
        className={clsx(signInCss.signInForm, formCss.newRecord, signInCss.start)}
        onSubmit={(event) => {
          event.preventDefault();
          begin.mutate();
        }}
      >
        <p className={signInCss.signInName}>
          <b>dorvet</b>
        </p>
        <Title>Begin with your firm</Title>
        <p className="soft">All of this can be changed later, but for the currency.</p>
        {field("firm", "Name of the firm", { autoFocus: true })}
        {field("currency", "Its currency, three letters")}
        {field("timeZone", "Its time zone")}
        <label htmlFor="start-mark">
          Decimal mark
          <Select id="start-mark" value={typed.mark} options={marks} onChange={(mark) => set({ mark })} />
        </label>
        {field("taxName", "Its tax, as it is printed")}
        {field("taxPercent", "Standard rate of that tax, %; empty for none", { inputMode: "decimal" })}
        <h2>You, the first administrator</h2>
        {field("name", "Your name", { autoComplete: "name" })}
        {field("mail", "Your mail address", { autoComplete: "username", inputMode: "email" })}
        {field("password", "A password, at least 12 characters", { type: "password", autoComplete: "new-password" })}
        {field("token", "Set-up token, which the server printed when it started", { autoComplete: "off" })}
        {problem && (!problem.field || !(problem.field in typed)) && (
          <p className="refusal" role="alert">
            {problem.message}
          </p>
        )}
        <Button type="primary" htmlType="submit" block loading={begin.isPending}>
          Begin
        </Button>
      </form>
    </main>
  );
}
