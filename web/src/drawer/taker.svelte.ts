/** A list that files are taken into: first read without keeping any of it, so that one can decide. */
import type { Outcome, Refusal } from "$api";

import { KeptList } from "../kit/list.svelte";

type Taken = { lines: number };
export type How = "replace" | "add";

export abstract class Taker<Whole = unknown, One = unknown> extends KeptList<Whole, One> {
  pending = $state.raw<{ file: File; lines: number } | null>(null);
  refused = $state.raw<{ field: string; message: string }[]>([]);
  said = $state("");

  /** What can be done with a file, in words. */
  abstract readonly ways: Partial<Record<How, string>>;
  protected abstract hand(file: File, how: How, onlyTry: boolean): Promise<Outcome<Taken>>;
  protected abstract tell(lines: number, file: string, how: How): string;

  async open(file: File): Promise<void> {
    this.refused = [];
    this.said = "";
    this.pending = null;
    const { data, error } = await this.hand(file, "replace", true);
    if (data) this.pending = { file, lines: data.lines };
    else this.#refuse(file, error);
  }

  async take(how: How): Promise<void> {
    if (!this.pending) return;
    const { file, lines } = this.pending;
    const { error } = await this.hand(file, how, false);
    this.pending = null;
    if (error) {
      this.#refuse(file, error);
      return;
    }
    this.said = this.tell(lines, file.name, how);
    await this.load();
  }

  #refuse(file: File, error: Refusal): void {
    this.refused = error.errors.length
      ? error.errors
      : [{ field: file.name, message: error.detail }];
  }
}
