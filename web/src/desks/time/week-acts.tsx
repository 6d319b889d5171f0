import { Button, Input } from "antd";
import { useState } from "react";
import { hoursSaid } from "../../api/hours";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Refused } from "../../frame/state";
import type { Week } from "./use-week";
import { useWeekActs } from "./use-week-acts";
import weekCss from "./week.module.css";

/** The words for how far a week is. */
export const sheetWords = { open: "open", submitted: "submitted", approved: "approved" } as const;

/** Handing a week in, taking it back, approving it and sending it back. */
export function WeekActs({ week }: { week: Week }) {
  const session = useSession();
  const acts = useWeekActs(week.personId, week.monday);
  const [why, setWhy] = useState<string | null>(null);
  const mine = week.personId === session.personId;
  const administrator = session.role === "administrator";
  const leads = administrator || session.role === "lead";
  const missing = week.left >= 6 ? ` with ${hoursSaid(week.left)} missing` : "";
  const send = () => why && acts.sendBack.mutate(why, { onSuccess: () => setWhy(null) });
  if (why !== null)
    return (
      <span className={weekCss.sendBack}>
        <Input
          autoFocus
          aria-label="What is to be changed"
          placeholder="What is to be changed"
          value={why}
          onChange={(event) => setWhy(event.target.value)}
          onPressEnter={send}
        />
        <Button type="primary" disabled={!why.trim()} onClick={send}>
          Send the week back
        </Button>
        <Button type="text" onClick={() => setWhy(null)}>
          Cancel
        </Button>
      </span>
    );
  return (
    <>
      <Refused by={acts.problem} inline />
      {week.state === "open" && (mine || administrator) && week.minutes > 0 && (
        <Button
          title={`Submits the week${missing}`}
          loading={acts.submit.isPending}
          onClick={() => acts.submit.mutate()}
        >
          Submit the week
        </Button>
      )}
      {week.state === "submitted" && (mine || administrator) && (
        <Button onClick={() => acts.takeBack.mutate()}>Take the week back</Button>
      )}
      {week.state !== "open" && leads && <Button onClick={() => setWhy("")}>Send back…</Button>}
      {week.state === "submitted" && leads && week.toApprove > 0 && (
        <Button type="primary" onClick={() => acts.approve.mutate()}>
          {week.partial ? `Approve ${week.toApprove} entries` : "Approve the week"}
        </Button>
      )}
    </>
  );
}

/** How far the week is, in a line, if it is anything but open and new. */
export function WeekState({ week }: { week: Week }) {
  if (week.state === "open" && week.sentBack)
    return (
      <p className={deskCss.findingBox}>
        <b>Sent back.</b> {week.sentBack}
      </p>
    );
  if (week.state === "submitted") return <p className={weekCss.weekState}>Submitted, waits for approval.</p>;
  if (week.state === "approved") return <p className={weekCss.weekState}>Approved; it takes no more changes.</p>;
  return null;
}
