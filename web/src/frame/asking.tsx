import { type ComponentType, lazy, Suspense, useEffect, useState } from "react";
import { asks } from "../api/proof";

type Dialog = ComponentType<{ onClose: (yes: boolean) => void }>;

const dialogs: Record<keyof typeof asks, Dialog> = {
  proof: lazy(() => import("./proof")),
  signIn: lazy(() => import("./sign-in-again")),
};

/** Shows what is asked while requests wait; all that wait get the one answer. */
export function Asking({ what }: { what: keyof typeof asks }) {
  const [waiting, setWaiting] = useState<((yes: boolean) => void)[]>([]);
  useEffect(() => {
    const before = asks[what];
    asks[what] = () => new Promise((resolve) => setWaiting((others) => [...others, resolve]));
    return () => {
      asks[what] = before;
    };
  }, [what]);
  if (waiting.length === 0) return null;
  const Dialog = dialogs[what];
  const close = (yes: boolean) => {
    setWaiting([]);
    for (const answer of waiting) answer(yes);
  };
  return (
    <Suspense fallback={null}>
      <Dialog onClose={close} />
    </Suspense>
  );
}
