/** The user's own stock as listed, edited and taken over from files. */
import {
  changeLine,
  getDrawer,
  newLine,
  removeLine,
  takeCsv,
  type DrawerAnswer,
  type DrawerLine,
  type LineAsk,
} from "$api";

import { Latest } from "../shell/latest";
import { Taker, type How } from "./taker.svelte";
import { counted } from "../shell/counted";

/** A line as typed: every cell is text until the server has understood it. */
export type Draft = { value: string; count: string; tolerance: string; family: string };
export const EMPTY: Draft = { value: "", count: "", tolerance: "1 %", family: "" };

export class DrawerState extends Taker {
  readonly ways = { replace: "Make it the drawer", add: "Add it" };

  drawer = $state.raw<DrawerAnswer | null>(null);
  trouble = $state("");
  draft = $state<Draft>({ ...EMPTY });
  /** What is wrong with the line being typed, by cell. */
  wrong = $state<Record<string, string>>({});
  editing = $state<number | null>(null);
  removed = $state.raw<DrawerLine | null>(null);

  protected hand(file: File, how: How, onlyTry: boolean) {
    return takeCsv(file, { how, only_try: onlyTry });
  }

  protected tell(lines: number, file: string, how: How): string {
    return `${counted(lines, "line")} of ${file} ${lines === 1 ? "is" : "are"} ${how === "replace" ? "the drawer now" : "added"}.`;
  }

  #latest = new Latest();

  async load(): Promise<void> {
    const found = await this.#latest.of(getDrawer());
    if (!found) return;
    const { data, error } = found;
    this.trouble = error ? `The drawer could not be read: ${error.detail}.` : "";
    if (data) this.drawer = data;
  }

  edit(line: DrawerLine): void {
    this.editing = line.id;
    this.wrong = {};
    this.draft = {
      value: `${line.value} ${line.unit}`,
      count: line.count === null ? "" : String(line.count),
      tolerance: line.tolerance_shown,
      family: line.family,
    };
  }

  leave(): void {
    this.editing = null;
    this.wrong = {};
    this.draft = { ...EMPTY, tolerance: this.draft.tolerance, family: this.draft.family };
  }

  /** Keep the line being typed; tells whether it was taken. */
  async keep(): Promise<boolean> {
    const { value, count, tolerance, family } = this.draft;
    const whole = count.trim();
    if (whole && !/^\d+$/.test(whole)) {
      this.wrong = { count: `“${whole}” is no count: write a whole number, or nothing for plenty` };
      return false;
    }
    const body: LineAsk = {
      ohm: value,
      count: whole ? Number(whole) : null,
      tolerance,
      family,
    };
    const id = this.editing;
    const { error } = await (id === null ? newLine(body) : changeLine(id, body));
    if (error) {
      this.wrong = Object.fromEntries(
        error.errors.map((e) => [e.field === "ohm" ? "value" : e.field, e.message]),
      );
      if (error.errors.length === 0) this.wrong = { value: error.detail };
      return false;
    }
    // First the list: a line that is shown as it was is a line that can be taken out as it was
    await this.load();
    this.leave();
    return true;
  }

  async remove(line: DrawerLine): Promise<void> {
    const { error } = await removeLine(line.id);
    if (error && error.status !== 404) {
      this.trouble = `The line was not taken out: ${error.detail}.`;
      return;
    }
    this.removed = line;
    await this.load();
  }

  async putBack(): Promise<void> {
    if (!this.removed) return;
    const { ohm, count, tolerance, family } = this.removed;
    const { error } = await newLine({ ohm, count, tolerance, family });
    if (error) {
      this.trouble = `It could not be put back: ${error.detail}.`;
      return;
    }
    this.removed = null;
    await this.load();
  }
}
