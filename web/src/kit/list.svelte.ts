/** A list of the user's own things: read, one of them changed, taken out and put back. */
import type { Outcome, Refusal } from "$api";

import { Latest } from "../shell/latest";

export abstract class KeptList<Whole, One> {
  /** The list as last read. */
  found = $state.raw<Whole | null>(null);
  trouble = $state("");
  /** What is wrong with the one being typed, by cell. */
  wrong = $state<Record<string, string>>({});
  removed = $state.raw<One | null>(null);

  /** What the list and one of it are called: “drawer”, “line”. */
  protected abstract readonly words: { whole: string; one: string };
  protected abstract read(): Promise<Outcome<Whole>>;
  protected abstract forget(one: One): Promise<Outcome<unknown>>;
  protected abstract restore(one: One): Promise<Outcome<unknown>>;
  /** Type no more. */
  abstract leave(): void;

  #latest = new Latest();

  async load(): Promise<void> {
    const answer = await this.#latest.of(this.read());
    if (!answer) return;
    const { data, error } = answer;
    this.trouble = error ? `The ${this.words.whole} could not be read: ${error.detail}.` : "";
    if (data) this.found = data;
  }

  /** What was typed is handed over; tells whether it was taken. What names no cell goes to `first`. */
  protected async settle(handed: Promise<Outcome<unknown>>, first: string): Promise<boolean> {
    const { error } = await handed;
    if (error) {
      this.wrong = byCell(error, first);
      return false;
    }
    // First the list: a line that is shown as it was is a line that can be taken out as it was
    await this.load();
    this.leave();
    return true;
  }

  async remove(one: One): Promise<void> {
    const { error } = await this.forget(one);
    if (error && error.status !== 404) {
      this.trouble = `The ${this.words.one} was not taken out: ${error.detail}.`;
      return;
    }
    this.removed = one;
    await this.load();
  }

  async putBack(): Promise<void> {
    if (!this.removed) return;
    const { error } = await this.restore(this.removed);
    if (error) {
      this.trouble = `It could not be put back: ${error.detail}.`;
      return;
    }
    this.removed = null;
    await this.load();
  }
}

function byCell(error: Refusal, first: string): Record<string, string> {
  if (error.errors.length === 0) return { [first]: error.detail };
  return Object.fromEntries(error.errors.map((e) => [e.field, e.message]));
}
