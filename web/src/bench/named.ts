/** A reading typed with where it was taken: `A 3.87`, `OUT=3V02`, `R1 200k`, `V(R2) 3.1`, `I(R1) 5mA`. */

export type NamedReading = { point: Record<string, string>; text: string };

const WRITTEN = /^\s*(?:([VIvi])\s*\(\s*([^\s()]+)\s*\)|@?([A-Za-z_]\w*))\s*(?:[=:]\s*|\s+)(\S.*)$/;
/** A figure, or what a meter shows over its range. */
const FIGURE = /^[-−+.]?\d|^(?:ol|o\.l|over)/i;

const among = (names: readonly string[], name: string): string | undefined =>
  names.includes(name) ? name : names.find((one) => one.toLowerCase() === name.toLowerCase());

/** Which point a reading names, and what is left of it; nothing where it names none. */
export function namedReading(
  text: string,
  junctions: readonly string[],
  parts: readonly string[],
  against = "0",
): NamedReading | null {
  const found = WRITTEN.exec(text);
  const figure = found?.[4]?.trim() ?? "";
  if (!found || !FIGURE.test(figure)) return null;
  const kind = found[1]?.toUpperCase();
  const name = found[2] ?? found[3] ?? "";
  const part = among(parts, name);
  const junction = among(junctions, name);
  if (kind === "I") {
    const through = name.toLowerCase() === "supply" ? "supply" : part;
    return through ? { point: { kind: "current", through }, text: figure } : null;
  }
  if (kind === "V" && part) return { point: { kind: "voltage", across: part }, text: figure };
  if (junction) return { point: { kind: "voltage", at: junction, against }, text: figure };
  if (kind === undefined && part) return { point: { kind: "resistance", part }, text: figure };
  return null;
}
