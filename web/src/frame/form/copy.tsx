import formCss from "./form.module.css";

/** Something to take away: it is chosen whole when one goes there. */
export function Copy({ label, value }: { label: string; value: string }) {
  return (
    <input
      className={formCss.copy}
      readOnly
      aria-label={label}
      value={value}
      onFocus={(event) => event.target.select()}
    />
  );
}
