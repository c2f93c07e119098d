/** How often each kind of fault is met: start values, and what the user says otherwise. */
import { getPriors, keepPriors, type PriorsAnswer } from "$api";

export class PriorsState {
  priors = $state.raw<PriorsAnswer["priors"]>([]);
  trouble = $state("");

  async open(): Promise<void> {
    const { data, error } = await getPriors();
    if (data) this.priors = data.priors;
    else this.trouble = `Not read: ${error.detail}.`;
  }

  /** Keep one weight; tells whether it is kept. */
  async weigh(kind: string, text: string): Promise<boolean> {
    const weight = Number(text.trim().replace(",", "."));
    const all = Object.fromEntries(this.priors.map((p) => [p.kind as string, p.weight]));
    if (!text.trim() || Number.isNaN(weight)) {
      this.trouble = `“${text}” is no number: how often this is met, against the others.`;
      return false;
    }
    return this.#keep({ ...all, [kind]: weight });
  }

  reset(): Promise<boolean> {
    return this.#keep({});
  }

  async #keep(all: Record<string, number>): Promise<boolean> {
    const { data, error } = await keepPriors(all);
    this.trouble = error ? `Not kept: ${error.detail}.` : "";
    if (data) this.priors = data.priors;
    return !error;
  }
}
