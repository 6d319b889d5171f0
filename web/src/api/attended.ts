/** How long after the last touch somebody is still taken to be there, in milliseconds. */
const patience = 60_000;

let touched = Date.now();

for (const way of ["keydown", "pointerdown", "pointermove", "wheel", "touchstart"])
  window.addEventListener(way, () => (touched = Date.now()), { capture: true, passive: true });

/** Whether somebody is before the page: what it asks by itself does not keep them signed in. */
export const attended = () => Date.now() - touched < patience;
