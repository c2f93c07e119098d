/** The need of each kind as one sentence: words, and the tokens between them. */
import type { BriefKind } from "$api";

export type Piece = { words: string } | { token: string; label: string };

const words = (text: string): Piece => ({ words: text });
const token = (name: string, label: string): Piece => ({ token: name, label });

const PARTS: Piece[] = [
  words(", from "),
  token("values", "series of values"),
  words(" between "),
  token("min_ohm", "smallest part"),
  words(" and "),
  token("max_ohm", "largest part"),
  words(" at "),
  token("tolerance", "tolerance of a part"),
  words(" and "),
  token("tcr", "temperature coefficient"),
  words(" in "),
  token("rating", "size or power rating"),
  words(" used to "),
  token("stress", "share of the rating that may be used"),
  words(", at "),
  token("low_c", "coldest ambient"),
  words(" to "),
  token("high_c", "hottest ambient"),
  words("."),
];

export const SENTENCES: Record<BriefKind, Piece[]> = {
  resistance: [
    words("Make "),
    token("target_ohm", "wanted resistance"),
    words(" within "),
    token("within", "accepted deviation"),
    words(" of up to "),
    token("max_parts", "number of parts"),
    words(" parts, taking "),
    token("use", "current through it or voltage across it"),
    words(", beside "),
    token("load", "resistance in parallel with it"),
    ...PARTS,
  ],
  divider: [
    words("From "),
    token("supply_v", "supply voltage"),
    words(" ± "),
    token("supply_tolerance", "tolerance of the supply"),
    words(" behind "),
    token("source_ohm", "source resistance"),
    words(" make "),
    token("target_v", "wanted voltage"),
    words(" within "),
    token("within", "accepted deviation"),
    words(" into "),
    token("load", "load at the tap"),
    words(", drawing at most "),
    token("max_current_a", "largest supply current"),
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
