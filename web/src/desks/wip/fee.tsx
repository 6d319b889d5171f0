import type { Schema } from "../../api/client";
import { Fact, Facts } from "../../frame/facts";
import { fixed, useMoneyText } from "../../frame/figure";

/** Who says how much is done. */
const doneWords: Record<string, string> = {
  typed: "as it says",
  phases: "by its phases",
  hours: "by hours of those expected",
};

/** A fixed fee: worked against billed and agreed. */
export function Fee({ fee }: { fee: Schema["FeeProgress"] }) {
  const money = useMoneyText();
  const percent = (share: number) => `${fixed(Math.round(share / 10_000), 0)} %`;
  return (
    <Facts label="Fixed fee">
      <Fact of="Agreed fee">{money(fee.fee, true)}</Fact>
      <Fact of={`Worked, at standard: ${percent(fee.workedShare)}`}>{money(fee.worked, true)}</Fact>
      <Fact of={`Billed: ${percent(fee.billedShare)}`}>{money(fee.billed, true)}</Fact>
      {fee.expected ? (
        <Fact
          of={`Result expected, ${percent(fee.done)} done ${doneWords[fee.doneFrom]}`}
          sum
          tone={fee.expected.minor < 0 ? "lost" : ""}
        >
          {money(fee.expected, true)}
        </Fact>
      ) : (
        <Fact of="Result expected" sum>
          <span className="soft">when it is known how much is done</span>
        </Fact>
      )}
    </Facts>
  );
}
