/** The need of each kind as one sentence: words, and the tokens between them. */
import type { BriefKind } from "$api";

export type Piece = { words: string } | { token: string };

const words = (text: string): Piece => ({ words: text });
const token = (name: string): Piece => ({ token: name });

const PARTS: Piece[] = [
  words(", from "),
  token("values"),
  words(" between "),
  token("min_ohm"),
  words(" and "),
  token("max_ohm"),
  words(" at "),
  token("tolerance"),
  words(" and "),
  token("tcr"),
  words(" in "),
  token("rating"),
  words(" used to "),
  token("stress"),
  words(", at "),
  token("low_c"),
  words(" to "),
  token("high_c"),
  words("."),
];

export const SENTENCES: Record<BriefKind, Piece[]> = {
  resistance: [
    words("Make "),
    token("target_ohm"),
    words(" within "),
    token("within"),
    words(" of up to "),
    token("max_parts"),
    words(" parts, taking "),
    token("use"),
    words(", beside "),
    token("load"),
    ...PARTS,
  ],
  divider: [
    words("From "),
    token("supply_v"),
    words(" ± "),
    token("supply_tolerance"),
    words(" behind "),
    token("source_ohm"),
    words(" make "),
    token("target_v"),
    words(" within "),
    token("within"),
    words(" into "),
    token("load"),
    words(", drawing at most "),
    token("max_current_a"),
    ...PARTS,
  ],
};

export const PREFERENCES: Record<BriefKind, { value: string; words: string }[]> = {
  resistance: [
    { value: "nearest", words: "nearest" },
    { value: "fewest", words: "fewest parts" },
  ],
  divider: [
    { value: "nearest", words: "nearest" },
    { value: "worst_case", words: "worst corner" },
    { value: "least_current", words: "least current" },
  ],
};
