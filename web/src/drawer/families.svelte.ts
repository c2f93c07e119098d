/** Part families as listed and edited: typical ones, and the user's own in place of them or beside. */
import { keepFamily, listFamilies, removeFamily, takeFamilies, type FamilyAnswer } from "$api";

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

export class FamiliesState extends Taker<FamilyAnswer[], FamilyAnswer> {
  readonly ways = { add: "Take them over" };
  protected readonly words = { whole: "families", one: "family" };

  draft = $state<FamilyDraft>({ ...EMPTY });
  /** The name of the family being changed; empty for a new one. */
  editing = $state("");

  protected hand(file: File, _how: How, onlyTry: boolean) {
    return takeFamilies(file, onlyTry);
  }

  protected tell(lines: number, file: string): string {
    return `${lines} families of ${file} are taken over.`;
  }

  protected read = listFamilies;
  /** Of the user's own; a typical one of its name holds again. */
  protected forget = (family: FamilyAnswer) => removeFamily(family.name);
  protected restore = (family: FamilyAnswer) => {
    const { name, tolerance, tcr_ppm, drift, rating_w, limiting_v, full_power_c, zero_power_c } =
      family;
    const body = { tolerance, tcr_ppm, drift, rating_w, limiting_v, full_power_c, zero_power_c };
    return keepFamily(name, body);
  };

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
    return this.settle(keepFamily(name.trim(), body), "name");
  }
}
