/** Which choices of an invoice stand in which part of its review. */

export const layoutNames = [
  "layout",
  "layout_then",
  "layout_expenses",
  "line_text",
  "sum_text",
  "columns",
  "hours_shown",
  "covered_shown",
];
export const textNames = ["opening_text", "closing_text", "note_text"];
export const lookNames = [
  "language",
  "title",
  "design",
  "colour",
  "typeface",
  "paper",
  "logo",
  "head_picture",
  "head_lines",
  "payment_code",
  "expense_statement",
];
