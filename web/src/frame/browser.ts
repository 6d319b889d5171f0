import Bowser from "bowser";

/** A browser as people call it, out of what it says of itself. */
export function browserName(said: string): string {
  if (!said) return "";
  const { browser, os } = Bowser.parse(said);
  if (!browser.name) return said.slice(0, 60);
  return os.name ? `${browser.name} on ${os.name}` : browser.name;
}
