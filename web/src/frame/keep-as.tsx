import { Input } from "antd";
import { useState } from "react";
import { Do } from "./do";
import { Refused } from "./state";

interface Props {
  /** What the link says, what the name is of, and what is said when it is kept. */
  word: string;
  label: string;
  kept: string;
  act: { mutate: (name: string) => void; isSuccess: boolean; error: Error | null };
}

/** Keeps something under a name that is typed in place. */
export function KeepAs({ word, label, kept, act }: Props) {
  const [name, setName] = useState<string>();
  if (act.isSuccess) return <span className="soft">{kept}</span>;
  if (name === undefined) return <Do onClick={() => setName("")}>{word}</Do>;
  return (
    <span>
      <Input
        autoFocus
        size="small"
        style={{ width: 220 }}
        aria-label={label}
        placeholder="under which name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onPressEnter={() => act.mutate(name)}
        onKeyDown={(event) => event.key === "Escape" && setName(undefined)}
      />
      <Refused by={act.error} inline />
    </span>
  );
}
