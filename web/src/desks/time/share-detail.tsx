import { Input, Switch } from "antd";
import type { Schema } from "../../api/client";
import { Steps } from "../../frame/explain";
import formCss from "../../frame/form/form.module.css";
import { HoldField } from "./entry-fields";
import type { TypedShare } from "./use-purchase";

interface Props {
  share: TypedShare;
  number: number;
  worth?: Schema["ReckonedShare"];
  readOnly: boolean;
  onChange: (part: Partial<TypedShare>) => void;
}

/** What of a share is asked less often, and how its value was made. */
export function ShareDetail({ share, number, worth, readOnly, onChange }: Props) {
  return (
    <section aria-label={`Share ${number}`}>
      <h2 className="sub">Share {number}</h2>
      {Boolean(share.engagementId) && (
        <div className={formCss.fields}>
          <label className={formCss.wide} htmlFor="share-text">
            Text of its own on the invoice
            <Input
              id="share-text"
              aria-label="Text of the share"
              variant="underlined"
              placeholder="as of the purchase"
              readOnly={readOnly}
              value={share.text ?? ""}
              onChange={(event) => onChange({ text: event.target.value })}
            />
          </label>
          <HoldField typed={share} readOnly={readOnly} onChange={onChange} />
          <label htmlFor="share-returns" className={formCss.switchField}>
            On every bill
            <Switch
              id="share-returns"
              size="small"
              aria-label="The share comes back on every bill"
              disabled={readOnly}
              checked={share.returns ?? false}
              onChange={(returns) => onChange({ returns })}
            />
          </label>
        </div>
      )}
      {worth?.explanation && <Steps of={worth.explanation} />}
    </section>
  );
}
