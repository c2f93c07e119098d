/** The need of each kind as one sentence: words, tokens between them, and clauses it can do without. */
import type { BriefKind, Design } from "$api";

export type Piece = { words: string } | { token: string };
export type Clause = { offer: string; pieces: Piece[] };

const words = (text: string): Piece => ({ words: text });
const token = (name: string): Piece => ({ token: name });
const clause = (offer: string, before: string, ...names: string[]): Clause => ({
  offer,
  pieces: names.flatMap((name, i) => [words(i ? " and " : before), token(name)]),
});

const PARTS: (Piece | Clause)[] = [
  words(", from "),
  token("values"),
  clause("range of values", " between ", "min_ohm", "max_ohm"),
  words(" at "),
  token("tolerance"),
  words(" and "),
  token("tcr"),
  clause("drift", ", drifting ", "drift"),
  words(" in "),
  token("rating"),
  words(" derated to "),
  token("stress"),
  clause("one array", ", of one array tracking to ", "tracking"),
  clause("own parts", ", except ", "own"),
  words(", at "),
  token("low_c"),
  words(" to "),
  token("high_c"),
  words("."),
];
const LOW = clause("low end", " down to ", "low_v");
const SUPPLY: (Piece | Clause)[] = [
  words("From "),
  token("supply_v"),
  clause("supply tolerance", " ± ", "supply_tolerance"),
  clause("source resistance", " behind ", "source_ohm"),
  LOW,
  words(" make "),
];
const LEGS: (Piece | Clause)[] = [
  clause("parts in a leg", ", with parts in a leg up to ", "per_leg"),
  clause("tap resistance", ", output resistance at most ", "max_output_ohm"),
  clause("upper leg", ", the upper leg being in place: ", "upper_ohm"),
  clause("lower leg", ", the lower leg being in place: ", "lower_ohm"),
];
const STIFF: Clause = {
  offer: "load always there",
  pieces: [words(", the string carrying "), token("stiff"), words(" its current")],
};
const FEEDS = clause("output limit", ", feeding what stands ", "feeds_v");
const tap = (number: number): Piece[] => [
  words(", "),
  token(`tap${number}_v`),
  words(" into "),
  token(`tap${number}_load`),
];

/** A network that is there already: what is not said is not judged. */
export const NETWORK_SENTENCE: (Piece | Clause)[] = [
  words("On "),
  token("supply_v"),
  clause("supply tolerance", " ± ", "supply_tolerance"),
  words(" behind "),
  token("source_ohm"),
  LOW,
  words(", loaded at "),
  token("loads"),
  words(", closed: "),
  token("closed"),
  clause("what is wanted", ", to give ", "wanted"),
  STIFF,
  FEEDS,
  clause("tolerance", ", of parts at ", "tolerance"),
  clause("temperature coefficient", " and ", "tcr"),
  clause("drift", ", drifting ", "drift"),
  clause("size or family", " in ", "rating"),
  clause("stress", " derated to ", "stress"),
  clause("one array", ", of one array tracking to ", "tracking"),
  clause("own parts", ", except ", "own"),
  clause("ambient", ", at ", "low_c", "high_c"),
  words("."),
];

/** A sensor in one leg of a divider, and what the resistor beside it is for. */
export const SENSOR_SENTENCE: (Piece | Clause)[] = [
  words("On "),
  token("supply_v"),
  words(" a sensor of "),
  token("sensor"),
  words(" in the "),
  token("position"),
  words(", for the "),
  token("aim"),
  clause("window", ", inside ", "window"),
  clause("straightness", ", off the line by at most ", "bend"),
  clause("load", ", into ", "load"),
  clause("the sensor's own heating", ", heating it by at most ", "sensor_w"),
  words(", from "),
  token("values"),
  clause("range of values", " between ", "min_ohm", "max_ohm"),
  words(" at "),
  token("tolerance"),
  words(" in "),
  token("rating"),
  words(" derated to "),
  token("stress"),
  words("."),
];

export const SENTENCES: Record<BriefKind, (Piece | Clause)[]> = {
  resistance: [
    words("Make "),
    token("target_ohm"),
    words(" within "),
    token("within"),
    words(" of up to "),
    token("max_parts"),
    words(" parts"),
    clause("current or voltage", ", taking ", "use"),
    clause("what lies beside it", ", beside ", "load"),
    clause("part in place", ", completing ", "in_place_ohm"),
    ...PARTS,
  ],
  divider: [
    ...SUPPLY,
    token("target_v"),
    clause("ratio", ", which is ", "ratio"),
    words(" within "),
    token("within"),
    clause("load", " into ", "load"),
    STIFF,
    FEEDS,
    clause("most current", ", drawing at most ", "max_current_a"),
    clause("least current", ", at least ", "min_current_a"),
    ...LEGS,
    ...PARTS,
  ],
  feedback: [
    words("Set "),
    token("target_v"),
    words(" within "),
    token("within"),
    words(" from a reference of "),
    token("reference_v"),
    clause("reference tolerance", " ± ", "reference_tolerance"),
    clause("pin current", " with a pin taking ", "pin_a"),
    FEEDS,
    clause("most current", ", drawing at most ", "max_current_a"),
    clause("least current", ", at least ", "min_current_a"),
    ...LEGS,
    ...PARTS,
  ],
  ladder: [
    ...SUPPLY,
    token("tap1_v"),
    words(" into "),
    token("tap1_load"),
    { offer: "second tap", pieces: tap(2) },
    { offer: "third tap", pieces: tap(3) },
    { offer: "fourth tap", pieces: tap(4) },
    words(", each within "),
    token("within"),
    STIFF,
    FEEDS,
    clause("most current", ", drawing at most ", "max_current_a"),
    clause("least current", ", at least ", "min_current_a"),
    ...PARTS,
  ],
};

/** Every token that the sentence of a kind has a place for. */
export function tokensOf(kind: Design["kind"]): string[] {
  if (kind === "board") return [];
  const sentence =
    kind === "network" ? NETWORK_SENTENCE : kind === "sensor" ? SENSOR_SENTENCE : SENTENCES[kind];
  const pieces = sentence.flatMap((piece) => ("offer" in piece ? piece.pieces : [piece]));
  return pieces.flatMap((piece) => ("token" in piece ? [piece.token] : []));
}

export const PREFERENCE_WORDS: Record<string, string> = {
  nearest: "nearest",
  fewest: "fewest parts",
  cool: "coolest parts",
  worst_case: "worst corner",
  least_current: "least current",
};
