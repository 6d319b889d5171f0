import { lazy, Suspense, useState } from "react";
import { MeButton } from "./me-button";

const load = () => import("./me-menu");
const Menu = lazy(load);

/** Who is signed in; what they can do for themselves is loaded when it is asked for. */
export function Me() {
  const [asked, setAsked] = useState(false);
  if (!asked) return <MeButton onClick={() => setAsked(true)} onPointerEnter={load} />;
  return (
    <Suspense fallback={<MeButton />}>
      <Menu />
    </Suspense>
  );
}
