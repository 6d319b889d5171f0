import { clsx } from "clsx";
import { useState } from "react";
import { Do } from "../frame/do";
import type { Page } from "./invoice";
import invoiceCss from "./invoice.module.css";
import type { Saying } from "./invoice-say";
import type { Words } from "./invoice-words";

interface Props {
  page: Page;
  words: Words;
  onSay?: (saying: Saying) => void;
}

/** What is billed, line by line; each opens into what it is made of, and can be asked about. */
export function InvoiceLines({ page, words, onSay }: Props) {
  const [open, setOpen] = useState("");
  return page.printed.sections.map((section, s) => (
    <section key={section.title} className={invoiceCss.section}>
      {section.title && <h2 className="sub">{section.title}</h2>}
      <ul>
        {section.lines.map((line, l) => {
          const made = page.made[s]?.[l];
          const place = `${s} ${l}`;
          const opens = (made?.of.length ?? 0) > 0 || onSay;
          const said = [line.day, line.who, line.hours && `${line.hours} h`, line.rate && `× ${line.rate}`].filter(
            Boolean,
          );
          return (
            <li key={place}>
              <div className={invoiceCss.line}>
                {opens ? (
                  <Do
                    className={clsx("link", invoiceCss.opens)}
                    aria-expanded={open === place}
                    onClick={() => setOpen(open === place ? "" : place)}
                  >
                    {line.text}
                  </Do>
                ) : (
                  <span>{line.text}</span>
                )}
                <span className="figure">{line.amount || line.note}</span>
              </div>
              {said.length > 0 && <span className="soft">{said.join(" · ")}</span>}
              {open === place && (
                <div className={invoiceCss.made}>
                  {made && made.of.length > 0 && <MadeOf of={made.of} label={words.made_of} />}
                  {onSay && (
                    <p>
                      <Do onClick={() => onSay({ kind: "question", section: s, line: l })}>{words.ask_line}</Do>{" "}
                      {page.mayDispute && made?.disputes && (
                        <Do onClick={() => onSay({ kind: "dispute", section: s, line: l })}>{words.dispute_line}</Do>
                      )}
                    </p>
                  )}
                </div>
              )}
            </li>
          );
        })}
      </ul>
      {section.sum && (
        <p className={invoiceCss.line}>
          <b>{section.sum.label}</b>
          <b className="figure">{section.sum.text}</b>
        </p>
      )}
    </section>
  ));
}

function MadeOf({ of, label }: { of: Page["made"][number][number]["of"]; label: string }) {
  return (
    <ul aria-label={label}>
      {of.map((entry, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: what was billed does not move
        <li key={at}>
          <div className={invoiceCss.line}>
            <span>{entry.text}</span>
            <span className="figure">{entry.amount}</span>
          </div>
          <span className="soft">
            {[entry.day, entry.who, entry.hours && `${entry.hours} h`, entry.rate && `× ${entry.rate}`]
              .filter(Boolean)
              .join(" · ")}
          </span>
        </li>
      ))}
    </ul>
  );
}
