import { Link } from "react-router";
import type { Schema } from "../../api/client";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { RecordField } from "../../frame/record/field";
import { linesInHand } from "./line-order";
import reviewCss from "./review.module.css";
import { changes, type Invoice, type useDraftActs } from "./use-billing";

interface Props {
  invoice: Invoice;
  acts: ReturnType<typeof useDraftActs>;
  mayEdit: boolean;
  /** Goes to a part of the draft where the remedy is. */
  onGo: (part: string, lineId: number) => void;
}

/** What is to be settled before the draft is issued, each with its remedy in place. */
export function Findings({ invoice, acts, mayEdit, onGo }: Props) {
  const settle = (finding: Schema["DraftFinding"], act: string) =>
    acts.change.mutate(changes.settle(finding, act), {
      onSuccess: () => linesInHand()?.focus(),
    });
  return (
    <section aria-label="To settle" className={reviewCss.findings}>
      {invoice.findings.map((finding) => (
        <div
          className={finding.level === "block" ? deskCss.findingBox : deskCss.noteBox}
          key={`${finding.code}-${finding.subjectId}`}
          data-finding={finding.code}
        >
          <b>{finding.title}</b> {finding.text}{" "}
          {mayEdit &&
            finding.remedies.map(({ act, label, to }) =>
              to.startsWith("/") ? (
                <Link key={label} to={to}>
                  {label}
                </Link>
              ) : (
                <Do key={label} onClick={() => (act ? settle(finding, act) : onGo(to, finding.lineId))}>
                  {label}
                </Do>
              ),
            )}
          {mayEdit && finding.missing && <RecordField {...finding.missing} />}
        </div>
      ))}
    </section>
  );
}
