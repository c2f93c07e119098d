/**
 * The address of what is on screen, where it is learned only after it was opened.
 *
 * An answer may come after its reader has gone on: the browser then stands at the address they went
 * to, though the page has not been told yet, and writing to it would fetch them back.
 */
export class Address {
  /** Where it stands, as far as the page knows. */
  #own: string;

  constructor(path: string) {
    this.#own = path;
  }

  /** The page was led here. */
  arrive(path: string): void {
    this.#own = path;
  }

  /** It stands there from now on, without a step in the history; nothing where one has gone on. */
  become(path: string): void {
    if (location.hash.slice(1) !== this.#own || path === this.#own) return;
    history.replaceState(history.state, "", `#${path}`);
    this.#own = path;
  }
}
