import type { ComponentProps } from "react";

/** Something that can be done, in the line of a text: a button that reads as a link. */
export const Do = (props: ComponentProps<"button">) => <button type="button" className="link" {...props} />;
