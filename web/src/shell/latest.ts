/** The answer to what was asked last; older answers still on their way are dropped. */
export class Latest {
  #asked = 0;

  /** The answer, or null where something else has been asked, or dropped, meanwhile. */
  async of<T>(answer: Promise<T>): Promise<T | null> {
    const mine = ++this.#asked;
    const found = await answer;
    return mine === this.#asked ? found : null;
  }

  /** Want no answer any more. */
  drop(): void {
    this.#asked++;
  }
}
