import { Button, Input, Popover } from "antd";
import { useState } from "react";
import { Do } from "../../frame/do";
import formCss from "../../frame/form/form.module.css";

interface Props {
  shown: string;
  refused?: string;
  onChange: (terms: string, keep: "invoice" | "client") => Promise<unknown>;
}

/** The terms of a draft; another value asks whether it holds for this invoice only or from now on. */
export function Terms({ shown, refused, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const [terms, setTerms] = useState("");
  const change = (keep: "invoice" | "client") =>
    onChange(terms, keep).then(
      () => setOpen(false),
      () => {}, // the sentence stands below
    );
  return (
    <Popover
      open={open}
      onOpenChange={(to) => {
        setOpen(to);
        setTerms("");
      }}
      afterOpenChange={(shows) => shows && document.getElementById("draft-terms")?.focus()}
      trigger="click"
      destroyOnHidden
      content={
        <div className={formCss.newRecord}>
          <label htmlFor="draft-terms">
            Payment terms
            <Input
              id="draft-terms"
              placeholder="30d, eom, eom+15d, day15"
              value={terms}
              onChange={(event) => setTerms(event.target.value)}
            />
          </label>
          {refused && <p className="refusal">{refused}</p>}
          <p className={formCss.newActs}>
            <Button disabled={!terms} onClick={() => change("invoice")}>
              This invoice only
            </Button>
            <Button disabled={!terms} onClick={() => change("client")}>
              From now on
            </Button>
          </p>
        </div>
      }
    >
      <Do>{shown}</Do>
    </Popover>
  );
}
