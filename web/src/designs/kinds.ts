/** What kinds of design are called. */
import type { Design } from "$api";

export const KIND_WORDS: Record<Design["kind"], string> = {
  resistance: "a resistance",
  divider: "a divider",
  feedback: "a feedback pair",
  ladder: "several taps",
  network: "a network",
  sensor: "a sensor in a leg",
  board: "a whole board",
};
