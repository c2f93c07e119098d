/** What is seen on a part, and what it says; and the other way round. */
import { readMark, writeMark, type MarkAnswer, type MarksWritten, type Refusal } from "$api";

import { COLOURS, type Colour } from "../marks/colours";
import { Latest } from "../shell/latest";

/** Keys of the colours: a digit for those that stand for one, else a letter. */
export const COLOUR_KEYS: Record<string, Colour> = {
  ...Object.fromEntries(COLOURS.slice(0, 10).map((colour, digit) => [String(digit), colour])),
  g: "gold",
  s: "silver",
  p: "pink",
};
export const MOST_BANDS = 6;

export class ReadingMarks {
  bands = $state<string[]>(["brown", "black", "red", "gold"]);
  /** Which band is picked next, from 0. */
  at = $state(0);
  /** Typed in place of picked: colours as words, or a code. */
  text = $state("");
  measured = $state("");
  answer = $state.raw<MarkAnswer | null>(null);
  wrong = $state("");
  #latest = new Latest();

  /** The bands that are drawn: picked, or understood from what is typed. */
  drawn = $derived(this.text.trim() ? (this.answer?.bands ?? []) : this.bands);

  pick(colour: Colour): void {
    this.text = "";
    this.bands = [...this.bands.slice(0, this.at), colour, ...this.bands.slice(this.at + 1)];
    this.at = Math.min(this.at + 1, MOST_BANDS - 1);
    void this.read();
  }

  /** Take the last band off, or the one at which one stands. */
  drop(): void {
    if (this.bands.length === 0) return;
    this.bands = this.bands.slice(0, -1);
    this.at = this.bands.length;
    void this.read();
  }

  stand(at: number): void {
    this.at = Math.min(Math.max(at, 0), Math.min(this.bands.length, MOST_BANDS - 1));
  }

  clear(): void {
    this.bands = [];
    this.at = 0;
    this.answer = null;
    this.wrong = "";
  }

  type(text: string): void {
    this.text = text;
    void this.read();
  }

  measure(text: string): void {
    this.measured = text;
    void this.read();
  }

  async read(): Promise<void> {
    const seen = this.text.trim() ? { text: this.text } : { bands: [...this.bands] };
    if (!this.text.trim() && this.bands.length < 3) {
      this.#latest.drop();
      this.answer = null;
      this.wrong = "";
      return;
    }
    const measured = this.measured.trim() ? { measured_ohm: this.measured } : {};
    const found = await this.#latest.of(readMark({ ...seen, ...measured }));
    if (!found) return;
    this.answer = found.data ?? null;
    this.wrong = found.error ? said(found.error) : "";
  }
}

export class WritingMarks {
  ohm = $state("4k7");
  tolerance = $state("1 %");
  tcr = $state("");
  answer = $state.raw<MarksWritten | null>(null);
  wrong = $state("");
  #latest = new Latest();

  async write(): Promise<void> {
    if (!this.ohm.trim()) return;
    const tolerance = this.tolerance.trim() ? { tolerance: this.tolerance } : {};
    const tcr = this.tcr.trim() ? { tcr_ppm: this.tcr } : {};
    const found = await this.#latest.of(writeMark({ ohm: this.ohm, ...tolerance, ...tcr }));
    if (!found) return;
    this.answer = found.data ?? null;
    this.wrong = found.error ? said(found.error) : "";
  }
}

const said = (error: Refusal): string => error.errors[0]?.message ?? error.detail;
