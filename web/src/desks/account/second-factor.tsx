import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { api, of } from "../../api/client";

/** A code from a device at every sign-in: set with a code that proves it, removed with the password. */
export function SecondFactor() {
  const queries = useQueryClient();
  const [wanted, setWanted] = useState(false);
  const [text, setText] = useState("");
  const offer = useQuery({
    queryKey: ["second-factor"],
    queryFn: () => of(api.GET("/api/account/second-factor")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const done = () => {
    setText("");
    setWanted(false);
    return queries.invalidateQueries({ queryKey: ["second-factor"] });
  };
  const set = useMutation({
    mutationFn: () =>
      of(api.PUT("/api/account/second-factor", { body: { secret: offer.data?.secret ?? "", code: text } })),
    onSuccess: done,
  });
  const remove = useMutation({
    mutationFn: () => of(api.POST("/api/account/second-factor/removal", { body: { password: text } })),
    onSuccess: done,
  });
  if (!offer.data) return null;
  const problem = set.error ?? remove.error;
  if (!wanted)
    return (
      <p>
        {offer.data.set ? "A code of your device is asked for at every sign-in. " : "Your password alone lets you in. "}
        <button type="button" className="link" onClick={() => setWanted(true)}>
          {offer.data.set ? "Remove it" : "Add one"}
        </button>
      </p>
    );
  return (
    <form
      className="new-record"
      onSubmit={(event) => {
        event.preventDefault();
        (offer.data.set ? remove : set).mutate();
      }}
    >
      {offer.data.set ? (
        <label htmlFor="factor-text">
          Your password
          <Input.Password id="factor-text" autoFocus value={text} onChange={(event) => setText(event.target.value)} />
        </label>
      ) : (
        <>
          <p>
            Type this secret into an app for one-time codes, or <a href={offer.data.uri}>open it there</a>:
            <input
              className="copy"
              readOnly
              aria-label="Secret"
              value={offer.data.secret}
              onFocus={(event) => event.target.select()}
            />
          </p>
          <label htmlFor="factor-text">
            The code that it shows
            <Input
              id="factor-text"
              autoFocus
              inputMode="numeric"
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
          </label>
        </>
      )}
      {problem && <p className="refusal">{problem.message}</p>}
      <p className="new-acts">
        <Button htmlType="submit" disabled={!text}>
          {offer.data.set ? "Remove the second factor" : "Ask for it from now on"}
        </Button>
        <Button type="text" onClick={() => setWanted(false)}>
          Cancel
        </Button>
      </p>
    </form>
  );
}
