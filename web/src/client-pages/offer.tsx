import { clsx } from "clsx";
import type { ReactNode } from "react";
import type { Schema } from "../api/client";
import { long } from "../frame/days";
import { Title } from "../frame/title";
import clientCss from "./client.module.css";
import offerCss from "./offer.module.css";

export type Page = Schema["Page"];
export type Chosen = Schema["Chosen"];

interface Props {
  page: Page;
  onChoose: (chosen: Chosen) => void;
  /** Beside the editor: without the texts around it. */
  small?: boolean;
  locked?: boolean;
  children?: ReactNode;
}

/** What is proposed: the versions to choose, their options, and what that comes to. Every figure is the server's. */
export function Offer({ page, onChoose, small, locked, children }: Props) {
  const { chosen } = page;
  const choose = (part: Partial<Chosen>) =>
    onChoose({ tier: chosen.tier, options: chosen.options, quantities: chosen.quantities, ...part });
  return (
    <div className={small ? clsx("small", offerCss.offer) : offerCss.offer}>
      {small ? <h2>{page.title}</h2> : <Title of={page.firm}>{page.title}</Title>}
      <p className="soft">
        Prepared for {page.for}
        {!small && `, valid until ${long(page.validUntil)}`}
      </p>
      {page.opening && <p className={clientCss.offerText}>{page.opening}</p>}
      <div
        {...(page.tiers.length > 1 ? { role: "radiogroup", "aria-label": "Versions" } : {})}
        className={offerCss.offerTiers}
      >
        {page.tiers.map((tier, at) => (
          <Tier
            // biome-ignore lint/suspicious/noArrayIndexKey: a tier is its place
            key={at}
            page={page}
            tier={tier}
            at={at}
            locked={locked}
            onTier={() => choose({ tier: at, options: [] })}
            onOptions={(options) => choose({ tier: at, options })}
            onQuantity={(line, text) => choose({ tier: at, quantities: { ...chosen.quantities, [line]: text } })}
          />
        ))}
      </div>
      <Figures page={page} />
      {children}
    </div>
  );
}

interface TierProps {
  page: Page;
  tier: Page["tiers"][number];
  at: number;
  locked?: boolean;
  onTier: () => void;
  onOptions: (options: number[]) => void;
  onQuantity: (line: number, text: string) => void;
}

function Tier({ page, tier, at, locked, onTier, onOptions, onQuantity }: TierProps) {
  const { chosen } = page;
  const is = chosen.tier === at;
  // One version alone is nothing to choose.
  const Head = page.tiers.length > 1 ? "label" : "div";
  const flip = (line: number) =>
    onOptions(chosen.options.includes(line) ? chosen.options.filter((o) => o !== line) : [...chosen.options, line]);
  const included = tier.lines.filter((line) => !line.optional);
  const options = tier.lines.filter((line) => line.optional);
  return (
    <div className={is ? clsx("chosen", offerCss.offerTier) : offerCss.offerTier}>
      <Head className={offerCss.offerTierHead}>
        {page.tiers.length > 1 && (
          <input type="radio" name="tier" checked={is} disabled={locked && !is} onChange={onTier} />
        )}
        <span>
          <b>{tier.name}</b>
          {tier.suggested && <span className={offerCss.suggestion}> we suggest this</span>}
          {tier.note && <span className="under">{tier.note}</span>}
        </span>
        <span className={clsx("figure", offerCss.offerPrice)}>
          {is ? chosen.net : tier.figure}
          {!is && tier.most && <span className="under">up to {tier.most}</span>}
        </span>
      </Head>
      {is && (
        <ul>
          {included.map((line) => (
            <li key={line.line}>
              <span>
                {line.description}
                {line.about && <span className="under">{line.about}</span>}
                <span className="under">{[line.made, line.when].filter(Boolean).join("; ")}</span>
                {line.text && <span className="under">{line.text}</span>}
                {line.asks && (
                  <Quantity line={line} value={chosen.quantities[line.line]} locked={locked} onQuantity={onQuantity} />
                )}
              </span>
              <span className="figure">{line.amount}</span>
            </li>
          ))}
          {options.map((line) => (
            <li key={line.line}>
              <label>
                <input
                  type="checkbox"
                  aria-label={line.description}
                  checked={chosen.options.includes(line.line)}
                  disabled={locked}
                  onChange={() => flip(line.line)}
                />
                <span>
                  {line.description}
                  {line.about && <span className="under">{line.about}</span>}
                  <span className="under">{line.when}</span>
                  {line.text && <span className="under">{line.text}</span>}
                </span>
              </label>
              {line.asks && (
                <Quantity line={line} value={chosen.quantities[line.line]} locked={locked} onQuantity={onQuantity} />
              )}
              <span className="figure">+ {line.firstYear}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

interface QuantityProps {
  line: Page["tiers"][number]["lines"][number];
  value?: string;
  locked?: boolean;
  onQuantity: (line: number, text: string) => void;
}

function Quantity({ line, value, locked, onQuantity }: QuantityProps) {
  return (
    <input
      className={offerCss.offerQuantity}
      aria-label={`Quantity of ${line.description}`}
      inputMode="decimal"
      defaultValue={value ?? line.quantity}
      disabled={locked}
      onBlur={(event) => event.target.value && onQuantity(line.line, event.target.value)}
    />
  );
}

/** What the choice comes to: what is paid when, the sum before tax and with it, and every bill. */
function Figures({ page }: { page: Page }) {
  const { chosen } = page;
  return (
    <section aria-label="What it comes to" className={offerCss.offerFigures} aria-live="polite">
      <table>
        <tbody>
          {chosen.rows.map((row) => (
            <tr key={row.label}>
              <th scope="row">{row.label}</th>
              <td className="number">{row.figure}</td>
            </tr>
          ))}
          {chosen.discount.map((row) => (
            <tr key={row.label}>
              <th scope="row">{row.label}</th>
              <td className="number">{row.figure}</td>
            </tr>
          ))}
          <tr className="strong">
            <th scope="row">{chosen.netLabel}</th>
            <td className="number" data-testid="net">
              {page.currency} {chosen.net}
            </td>
          </tr>
          {chosen.taxes.map((row) => (
            <tr key={row.label}>
              <th scope="row">{row.label}</th>
              <td className="number">{row.figure}</td>
            </tr>
          ))}
          <tr className="strong">
            <th scope="row">With tax</th>
            <td className="number" data-testid="gross">
              {page.currency} {chosen.gross}
            </td>
          </tr>
          {chosen.whole.map((row) => (
            <tr key={row.label}>
              <th scope="row">{row.label}</th>
              <td className="number">{row.figure}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="soft">Payment terms: {page.payment}.</p>
      {chosen.open && <p className="soft">Plus what is priced when billed.</p>}
      <details className={offerCss.offerBills}>
        <summary>Every bill that comes, with its date</summary>
        {page.assumed && <p className="soft">As if accepted on {long(page.start)}.</p>}
        <table>
          <tbody>
            {chosen.bills.map((bill, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: bills never move
              <tr key={at}>
                <th scope="row">
                  {bill.when}
                  <span className="under">{bill.what}</span>
                </th>
                <td className="number">{bill.gross}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}
