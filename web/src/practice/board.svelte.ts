/** The meter in the hand at a practice board: where the leads are, its jack, its range. */
import type { MeasuredAnswer, PointOffered, PracticeQuestion } from "$api";

const LETTERS = { voltage: "V", current: "A", resistance: "Ω" } as const;
const GROUPS = [
  ["voltage", "Volts: no soldering"],
  ["current", "Amperes: opens a wire"],
  ["resistance", "Ohms: lifts a part"],
] as const;

export const keyOf = (p: Pick<PointOffered, "kind" | "at" | "through" | "part">): string =>
  `${p.kind} ${p.part ?? p.through ?? p.at}`;

export class BoardState {
  readonly points: PointOffered[];
  readonly groups: { name: string; points: PointOffered[] }[];
  at = $state(0);
  jack = $state("");
  /** By what is measured: the full of the range that is set; 0 finds its own. */
  range = $state<Record<string, number>>({ voltage: 0, current: 0, resistance: 0 });
  newFuse = $state(false);

  readonly #question: PracticeQuestion;
  point = $derived.by(() => this.points[this.at]);
  letter = $derived.by(() => LETTERS[this.point?.kind ?? "voltage"]);
  ranges = $derived.by(() => this.#question.ranges?.[this.point?.kind ?? "voltage"] ?? []);
  rangeShown = $derived.by(
    () => this.ranges.find((r) => r.full === this.range[this.point?.kind ?? ""])?.shown ?? "auto",
  );

  constructor(question: PracticeQuestion, readings: MeasuredAnswer[]) {
    this.#question = question;
    const every = question.points ?? [];
    this.groups = GROUPS.map(([kind, name]) => ({
      name,
      points: every.filter((p) => p.kind === kind),
    }));
    this.points = this.groups.flatMap((group) => group.points);
    this.jack = readings.at(-1)?.jack ?? question.jacks?.[0] ?? "";
  }

  walk(step: number): void {
    this.at = Math.min(Math.max(this.at + step, 0), this.points.length - 1);
  }

  to(found: (p: PointOffered) => boolean): void {
    const place = this.points.findIndex(found);
    if (place >= 0) this.at = place;
  }

  nextJack(): void {
    const jacks = this.#question.jacks ?? [];
    this.jack = jacks[(jacks.indexOf(this.jack) + 1) % jacks.length] ?? this.jack;
  }

  /** Step through the ranges, from finding its own on. */
  turn(step: number): void {
    const kind = this.point?.kind;
    if (!kind) return;
    const fulls = [0, ...this.ranges.map((r) => r.full)];
    const place = fulls.indexOf(this.range[kind] ?? 0) + step;
    this.range[kind] = fulls[Math.min(Math.max(place, 0), fulls.length - 1)] ?? 0;
  }

  /** The reading as it is asked for, with the meter as it is set. */
  asked() {
    const point = this.point as PointOffered;
    const kind = point.kind;
    const named = Object.entries({
      at: point.at,
      against: point.against,
      through: point.through,
      part: point.part,
    }).filter(([, name]) => name != null);
    const set = { kind, ...(Object.fromEntries(named) as Record<string, string>) };
    const full = this.range[kind];
    return {
      ...set,
      jack: this.jack,
      new_fuse: this.newFuse,
      ...(full ? { range_full: full } : {}),
    };
  }
}
