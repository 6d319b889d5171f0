import { Button } from "antd";
import { useRef } from "react";
import { Refused } from "./state";

interface Props {
  words: string;
  busy: boolean;
  problem: Error | null;
  onFile: (file: File) => void;
}

/** A button that asks for a PDF or a picture from the disk. */
export function FileChoice({ words, busy, problem, onFile }: Props) {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={field}
        type="file"
        className="unseen"
        accept=".pdf,.png,.jpg,.jpeg"
        aria-label={words}
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = "";
        }}
      />
      <Button size="small" loading={busy} onClick={() => field.current?.click()}>
        {words}
      </Button>
      <Refused by={problem} inline />
    </>
  );
}
