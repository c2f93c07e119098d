/** What may be wrong with the board at the bench, weighed against what was read of it. */
import { askSuspects, type DiagnoseAnswer, type HypothesisAnswer, type Reading } from "$api";

import { Latest } from "../shell/latest";
import { roundOf, type Subject } from "./build.svelte";

export class Suspects {
  diagnosis = $state.raw<DiagnoseAnswer | null>(null);
  /** Two faults at once are looked for. */
  two = $state(false);
  looking = $state(false);
  /** Which of the hypotheses is under the cursor. */
  place = $state(0);
  /** What the diagnosis shown was made of. */
  #weighed: readonly Reading[] = [];
  #before: readonly Reading[] = [];
  #latest = new Latest();

  hypothesis = $derived<HypothesisAnswer | null>(this.diagnosis?.hypotheses[this.place] ?? null);

  /** Nothing is amiss, so nothing is suspected. */
  clear(): void {
    this.#latest.drop();
    this.diagnosis = null;
    this.looking = false;
  }

  move(by: number): void {
    const count = this.diagnosis?.hypotheses.length ?? 0;
    this.place = Math.min(Math.max(this.place + by, 0), Math.max(count - 1, 0));
  }

  /** Weigh the readings, `key` telling which point each is of; why that failed, if it did. */
  async weigh(
    subject: Subject,
    now: readonly Reading[],
    meter: string,
    key: (reading: Reading) => string,
  ): Promise<string> {
    this.looking = true;
    const more = { meter, most_at_once: this.two ? (2 as const) : (1 as const) };
    const before = roundOf(subject, this.#earlier(now, key)).readings;
    const asked = { ...roundOf(subject, now, more), most_at_once: more.most_at_once, before };
    const found = await this.#latest.of(askSuspects({ limit: 8, ...asked }));
    if (!found) return "";
    this.looking = false;
    this.#weighed = now;
    this.place = 0;
    if (!found.data) return `The fault was not looked for: ${found.error.detail}.`;
    this.diagnosis = found.data;
    return "";
  }

  /** Readings to tell a change against; none where one reading was added, since that is told. */
  #earlier(current: readonly Reading[], key: (reading: Reading) => string): readonly Reading[] {
    const texts = (some: readonly Reading[]) => some.map((r) => `${key(r)} ${r.text}`);
    const then = texts(this.#weighed);
    const now = texts(current);
    const kept = then.every((text, k) => text === now[k]);
    if (kept && now.length === then.length) return this.#before;
    this.#before = kept && now.length === then.length + 1 ? [] : this.#weighed;
    return this.#before;
  }
}
