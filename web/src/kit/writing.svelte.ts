/** How large the writing in a drawing is set, so that it can be read at whatever size it is drawn. */

/** CSS px: nothing that is read is smaller. */
export const LEAST = 11;
/** What figures beside a part are set in where there is room. */
const USUAL = 12;

type Size = { width: number; height: number };

export class Writing {
  /** What the drawing takes on screen, CSS px; none before it was drawn. */
  seen = $state<Size | undefined>();
  /** Everything is written whatever the size: for a file. */
  full = $state(false);
  #of: () => Size;
  #room: (() => Size) | undefined;

  /** Of a drawing so large, in its own units; `room`: what it is drawn in, where that is known. */
  constructor(of: () => Size, room?: () => Size) {
    this.#of = of;
    this.#room = room;
  }

  /** CSS px for each unit of the drawing. */
  scale = $derived.by(() => {
    const [seen, of] = [this.#room?.() ?? this.seen, this.#of()];
    if (this.full || !seen?.width || !seen.height) return 1;
    return Math.min(seen.width / of.width, seen.height / of.height);
  });
  /** How much is written: all figures, one line for each part, or names alone. */
  much = $derived<"figures" | "values" | "names">(
    this.scale * USUAL >= LEAST ? "figures" : this.scale >= 0.68 ? "values" : "names",
  );

  /** What a size is set in, in units of the drawing. */
  at(size: number): number {
    return Math.max(size, (LEAST + 0.1) / this.scale);
  }
}
