import { useEffect } from "react";
import { useRouteError } from "react-router";

/**
 * What stands in place of a page that broke off: mostly one that was left open while Dorvet was brought up to date, whose parts are not
 * there any more.
 */
export function Broken() {
  const error = useRouteError();
  useEffect(() => console.error(error), [error]);
  return (
    <p className="refusal" role="alert">
      This page can’t be shown: perhaps Dorvet was brought up to date while it was open. What you saved is kept.{" "}
      <button type="button" className="link" onClick={() => window.location.reload()}>
        Load it again
      </button>
    </p>
  );
}
