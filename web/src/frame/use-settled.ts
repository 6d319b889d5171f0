import { useEffect, useState } from "react";

/** A value once it has not changed for some milliseconds; compared by what it says. */
export function useSettled<T>(value: T, milliseconds: number): T {
  const [settled, setSettled] = useState(value);
  const said = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(JSON.parse(said)), milliseconds);
    return () => clearTimeout(timer);
  }, [said, milliseconds]);
  return settled;
}
