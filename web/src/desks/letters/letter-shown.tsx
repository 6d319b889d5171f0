import pricingCss from "../pricing/pricing.module.css";
import type { Letter } from "./use-letters";

/** A letter as it will be read, and what can stand in it. */
export function LetterShown({ letter, places }: { letter: Letter; places?: boolean }) {
  return (
    <article className={pricingCss.mailPreview} aria-label="The letter as it will go out">
      <h2 className="sub">{letter.subject}</h2>
      <p>{letter.body}</p>
      {letter.files.map((file) => (
        <p className="soft" key={file}>
          Attached: {file}
        </p>
      ))}
      {letter.copy && <p className="soft">A copy goes to {letter.copy}, unseen.</p>}
      {places && (
        <dl>
          {letter.placeholders.map((place) => (
            <div key={place.name}>
              <dt>{`{${place.name}}`}</dt>
              <dd className="soft">{place.value || "nothing to say"}</dd>
            </div>
          ))}
        </dl>
      )}
    </article>
  );
}
