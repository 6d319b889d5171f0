/** Whether a key press belongs to a field or the form around it, where letters are letters. */
export function inField(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && target.closest("input, textarea, select, form, [contenteditable=true]") !== null
  );
}
