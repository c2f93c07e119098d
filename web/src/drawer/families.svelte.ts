/** Part families as listed and edited: typical ones, and the user's own in place of them or beside. */
import { keepFamily, listFamilies, removeFamily, takeFamilies, type FamilyAnswer } from "$api";

import { Latest } from "../shell/latest";
import { Taker, type How } from "./taker.svelte";

/** A family as typed: every cell is text until the server has understood it. */
export type FamilyDraft = Record<Cell, string>;
export const CELLS = {
  name: "family",
  tolerance: "tolerance",
  tcr_ppm: "ppm/K",
  drift: "drift",
  rating_w: "power",
  limiting_v: "limiting",
  full_power_c: "full to",
  zero_power_c: "none from",
} as const;
export type Cell = keyof typeof CELLS;
const EMPTY: FamilyDraft = {
  name: "",
  tolerance: "1 %",
  tcr_ppm: "100 ppm/K",
  drift: "1 %",
  rating_w: "",
  limiting_v: "",
  full_power_c: "70 °C",
  zero_power_c: "155 °C",
};

export class FamiliesState extends Taker {
  readonly ways = { add: "Take them over" };

  families = $state.raw<FamilyAnswer[] | null>(null);
  trouble = $state("");
  draft = $state<FamilyDraft>({ ...EMPTY });
  wrong = $state<Partial<Record<Cell, string>>>({});
  /** The name of the family being changed; empty for a new one. */
  editing = $state("");
  removed = $state.raw<FamilyAnswer | null>(null);

  protected hand(file: File, _how: How, onlyTry: boolean) {
    return takeFamilies(file, onlyTry);
  }

  protected tell(lines: number, file: string): string {
    return `${lines} families of ${file} are taken over.`;
  }

  #latest = new Latest();

  async load(): Promise<void> {
    const found = await this.#latest.of(listFamilies());
    if (!found) return;
    const { data, error } = found;
    this.trouble = error ? `The families could not be read: ${error.detail}.` : "";
    if (data) this.families = data;
  }

  edit(family: FamilyAnswer): void {
    this.editing = family.name;
    this.wrong = {};
    const shown = family.shown as FamilyDraft;
    const limiting = family.limiting_v === null ? "" : shown.limiting_v;
    this.draft = { ...shown, name: family.name, limiting_v: limiting };
  }

  leave(): void {
    this.editing = "";
    this.wrong = {};
    this.draft = { ...EMPTY };
  }

  /** Keep the family being typed; tells whether it was taken. */
  async keep(): Promise<boolean> {
    const { name, limiting_v, ...figures } = this.draft;
    if (!name.trim()) {
      this.wrong = { name: "a family needs a name, for instance thin film 0603" };
      return false;
    }
    const body = { ...figures, limiting_v: limiting_v.trim() || null };
    const { error } = await keepFamily(name.trim(), body);
    if (error) {
      this.wrong = Object.fromEntries(error.errors.map((e) => [e.field, e.message]));
      if (error.errors.length === 0) this.wrong = { name: error.detail };
      return false;
    }
    // First the list: a line that is shown as it was is a line that can be taken out as it was
    await this.load();
    this.leave();
    return true;
  }

  /** Forget one of the user's own; a typical one of its name holds again. */
  async remove(family: FamilyAnswer): Promise<void> {
    const { error } = await removeFamily(family.name);
    if (error && error.status !== 404) {
      this.trouble = `The family was not taken out: ${error.detail}.`;
      return;
    }
    this.removed = family;
    await this.load();
  }

  async putBack(): Promise<void> {
    if (!this.removed) return;
    const { name, tolerance, tcr_ppm, drift, rating_w, limiting_v, full_power_c, zero_power_c } =
      this.removed;
    const body = { tolerance, tcr_ppm, drift, rating_w, limiting_v, full_power_c, zero_power_c };
    const { error } = await keepFamily(name, body);
    if (error) {
      this.trouble = `It could not be put back: ${error.detail}.`;
      return;
    }
    this.removed = null;
    await this.load();
  }
}
