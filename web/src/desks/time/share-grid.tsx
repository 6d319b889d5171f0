import { Input } from "antd";
import { clsx } from "clsx";
import type { Problem, Schema } from "../../api/client";
import { useSession } from "../../api/session";
import deskCss from "../../frame/desk.module.css";
import { Do } from "../../frame/do";
import { fixed, Money, typedNumber } from "../../frame/figure";
import { DayInput } from "../../frame/form/day-input";
import formCss from "../../frame/form/form.module.css";
import { Pick } from "../../frame/pick";
import tableCss from "../../frame/table.module.css";
import recordingCss from "./recording.module.css";
import type { Purchase, TypedPurchase, TypedShare } from "./use-purchase";
import { treatments } from "./words";
import { useOpenEngagements } from "./work-fields";

interface Props {
  typed: TypedPurchase;
  before?: Purchase;
  choices: Schema["Choices"];
  reckoning?: Schema["Reckoning"];
  problem: Problem | null;
  readOnly: boolean;
  at: number;
  onAt: (at: number) => void;
  onChange: (shares: TypedShare[]) => void;
  blank: TypedShare;
}

/** How the cost is shared out; what is left over is offered for the next share. */
export function ShareGrid(props: Props) {
  const { typed, before, reckoning, readOnly, onChange, blank } = props;
  const { decimals, currency, mark } = useSession();
  const shares = typed.shares;
  const set = (at: number, part: Partial<TypedShare>) =>
    onChange(shares.map((share, i) => (i === at ? { ...share, ...part } : share)));
  const left = reckoning?.left ?? { minor: 0, currency };
  const offered = fixed(Math.max(0, left.minor), decimals[left.currency] ?? 2);
  return (
    <section className={clsx(deskCss.sheet, recordingCss.shareGrid)} aria-label="Shares">
      <table className={tableCss.grid}>
        <thead>
          <tr>
            <th scope="col">Engagement</th>
            <th scope="col" className="number">
              Share of the cost
            </th>
            <th scope="col">Used on</th>
            <th scope="col">Billed</th>
            <th scope="col" className="number">
              Mark-up, %
            </th>
            <th scope="col">Note for us</th>
            <th scope="col" className="number">
              Value
            </th>
            <th scope="col">
              <span className="unseen">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {shares.map((share, at) => (
            <ShareRow
              {...props}
              // biome-ignore lint/suspicious/noArrayIndexKey: shares have no other name until they are saved
              key={at}
              share={share}
              index={at}
              kept={before?.shares.find((s) => s.id === share.id)}
              // A share that has no amount takes what is left over.
              offered={
                reckoning?.shares[at] && !share.amount
                  ? fixed(reckoning.shares[at].cost.minor, decimals[left.currency] ?? 2)
                  : offered
              }
              onSet={(part) => set(at, part)}
              onDrop={() => onChange(shares.filter((_, i) => i !== at))}
            />
          ))}
          {!readOnly && (
            <tr>
              <td colSpan={8}>
                <Do
                  onClick={() => {
                    const amount = left.minor > 0 ? typedNumber(left.minor, decimals[left.currency] ?? 2, mark) : "";
                    onChange([...shares, { ...blank, amount }]);
                  }}
                >
                  {left.minor > 0 ? `Another share, of ${offered}` : "Split it: another share"}
                </Do>
              </td>
            </tr>
          )}
        </tbody>
      </table>
    </section>
  );
}

interface RowProps extends Props {
  share: TypedShare;
  index: number;
  kept?: Schema["Share"];
  offered: string;
  onSet: (part: Partial<TypedShare>) => void;
  onDrop: () => void;
}

const own = { value: 0, label: "The firm’s own cost" };

function ShareRow({ typed, reckoning, problem, share, index, kept, offered, ...props }: RowProps) {
  const { role } = useSession();
  const { readOnly, onSet, onDrop, onAt } = props;
  const fixedNow = readOnly || kept?.locked === true;
  const name = `share ${index + 1}`;
  const wrong = (field: string) => (problem?.field === `shares.${index}.${field}` ? ("error" as const) : undefined);
  const worth = reckoning?.shares[index];
  const engagements = useOpenEngagements(share.engagementId);
  const toEngagement = (engagementId = 0) => {
    const chosen = engagements.data?.find((e) => e.engagementId === engagementId);
    onSet({ engagementId, treatment: chosen?.billable === false || !engagementId ? "not_billable" : "billable" });
  };
  return (
    <tr onFocus={() => onAt(index)}>
      <td>
        <Pick
          className={clsx(formCss.choose, recordingCss.shareChoice)}
          variant="borderless"
          size="middle"
          label={`Engagement of ${name}`}
          status={wrong("engagementId")}
          disabled={fixedNow}
          value={share.engagementId ?? 0}
          onChange={toEngagement}
          search={engagements.search}
          choices={[own, ...engagements.options]}
        />
      </td>
      <td className="number">
        <Input
          className={recordingCss.shareAmount}
          variant="borderless"
          aria-label={`Amount of ${name}`}
          status={wrong("amount")}
          readOnly={fixedNow}
          placeholder={offered}
          value={share.amount}
          onChange={(event) => onSet({ amount: event.target.value })}
        />
      </td>
      <td>
        <DayInput
          look="borderless"
          label={`Day of use of ${name}`}
          disabled={fixedNow}
          value={share.day || typed.day}
          onChange={(day) => onSet({ day })}
        />
      </td>
      <td>
        {share.engagementId ? (
          <Pick
            variant="borderless"
            size="middle"
            label={`How ${name} is billed`}
            status={wrong("treatment")}
            disabled={fixedNow}
            value={share.treatment}
            onChange={(treatment) => onSet({ treatment })}
            choices={treatments.filter((t) => t.value !== "out_of_scope")}
          />
        ) : (
          <span className="soft">no</span>
        )}
      </td>
      <td className="number">
        {role !== "staff" && share.engagementId ? (
          <Input
            className={recordingCss.shareAmount}
            variant="borderless"
            aria-label={`Mark-up of ${name}, %`}
            status={wrong("markup")}
            readOnly={fixedNow}
            placeholder="–"
            value={share.markup ?? ""}
            onChange={(event) => onSet({ markup: event.target.value })}
          />
        ) : null}
      </td>
      <td>
        <Input
          variant="borderless"
          aria-label={`Note of ${name}`}
          readOnly={readOnly}
          value={share.note ?? ""}
          onChange={(event) => onSet({ note: event.target.value })}
        />
      </td>
      <td className="number">{worth?.value && share.engagementId ? <Money of={worth.value} /> : ""}</td>
      <td>
        {kept?.locked ? (
          <span className="soft">{kept.invoice || "on a draft"}</span>
        ) : (
          !readOnly &&
          typed.shares.length > 1 && (
            <button type="button" className="link soft" aria-label={`Remove ${name}`} onClick={onDrop}>
              ×
            </button>
          )
        )}
      </td>
    </tr>
  );
}
