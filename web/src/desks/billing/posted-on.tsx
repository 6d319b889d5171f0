import { Button } from "antd";
import { useState } from "react";
import { useSession } from "../../api/session";
import { Do } from "../../frame/do";
import { SaidDate } from "../../frame/sentence";

interface Props {
  /** What was posted, as the beginning of a sentence. */
  what: string;
  onPosted: (day: string) => void;
  /** In the bar of a desk, where it is what is done next. */
  foremost?: { loading: boolean };
}

/** Notes that what waits on paper has left the house, today unless another day is said. */
export function PostedOn({ what, onPosted, foremost }: Props) {
  const { today } = useSession();
  const [day, setDay] = useState(today);
  return (
    <>
      {foremost ? (
        <Button type="primary" loading={foremost.loading} onClick={() => onPosted(day)}>
          {what} posted on
        </Button>
      ) : (
        <Do onClick={() => onPosted(day)}>{what} posted on</Do>
      )}{" "}
      <SaidDate alone label="Posted on" value={day} onChange={setDay} />
    </>
  );
}
