/** How the listed choices are ordered and which of them are shown: by what the server says of each. */
import type { ChoiceRow } from "$api";

export type Order = "preferred" | "off" | "spread" | "draws" | "parts" | "distinct" | "stocked";
export type Filter = "all" | "equal" | "passing";

const MEASURES: Record<Exclude<Order, "preferred">, (row: ChoiceRow) => number> = {
  off: (row) => Math.max(...row.marks.map((mark) => Math.abs(mark.error))),
  spread: (row) => row.spread,
  draws: (row) => row.amps ?? Infinity,
  parts: (row) => row.parts,
  distinct: (row) => row.distinct,
  stocked: (row) => row.stocked,
};

export const ORDER_WORDS: Record<Order, string> = {
  preferred: "as preferred",
  off: "nearest first",
  spread: "least spread first",
  draws: "least current first",
  parts: "fewest parts first",
  distinct: "fewest values first",
  stocked: "most widely stocked first",
};

export const FILTER_WORDS: Record<Filter, string> = {
  all: "all",
  equal: "equal parts only",
  passing: "passing only",
};

const KEEPS: Record<Filter, (row: ChoiceRow) => boolean> = {
  all: () => true,
  equal: (row) => row.distinct === 1,
  passing: (row) => row.verdict === "pass",
};

/** The rows in order; those set aside above the list (pinned, looked at) stay where they are. */
export function arranged(rows: ChoiceRow[], order: Order, filter: Filter): ChoiceRow[] {
  const aside = rows.filter((row) => !row.listed);
  const kept = rows.filter((row) => row.listed && (row.pinned || KEEPS[filter](row)));
  if (order === "preferred") return [...aside, ...kept];
  const measure = MEASURES[order];
  return [...aside, ...kept.sort((a, b) => measure(a) - measure(b))];
}
