import type { Schema } from "../../api/client";
import { Steps } from "../../frame/explain";
import { CheckField, TextField } from "../../frame/form/fields";
import { FieldGroup } from "../../frame/form/form";
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
  const of = { typed: share, set: onChange };
  return (
    <section aria-label={`Share ${number}`}>
      <h2 className="sub">Share {number}</h2>
      {Boolean(share.engagementId) && (
        <FieldGroup id="share" readOnly={readOnly}>
          <TextField
            of={of}
            name="text"
            label="Text of its own on the invoice"
            called="Text of the share"
            placeholder="as of the purchase"
            wide
          />
          <HoldField of={of} />
          <CheckField
            of={of}
            name="returns"
            label="On every bill"
            beside="comes back"
            called="The share comes back on every bill"
          />
        </FieldGroup>
      )}
      {worth?.explanation && <Steps of={worth.explanation} />}
    </section>
  );
}
