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

import { Taker, type How } from "./taker.svelte";
import { counted } from "../shell/counted";

/** A line as typed: every cell is text until the server has understood it. */
export type Draft = { ohm: string; count: string; tolerance: string; family: string };
export const EMPTY: Draft = { ohm: "", count: "", tolerance: "1 %", family: "" };

export class DrawerState extends Taker<DrawerAnswer, DrawerLine> {
  readonly ways = { replace: "Make it the drawer", add: "Add it" };
  protected readonly words = { whole: "drawer", one: "line" };

  draft = $state<Draft>({ ...EMPTY });
  editing = $state<number | null>(null);

  protected hand(file: File, how: How, onlyTry: boolean) {
    return takeCsv(file, { how, only_try: onlyTry });
  }

  protected tell(lines: number, file: string, how: How): string {
    return `${counted(lines, "line")} of ${file} ${lines === 1 ? "is" : "are"} ${how === "replace" ? "the drawer now" : "added"}.`;
  }

  protected read = getDrawer;
  protected forget = (line: DrawerLine) => removeLine(line.id);
  protected restore = ({ ohm, count, tolerance, family }: DrawerLine) =>
    newLine({ ohm, count, tolerance, family });

  edit(line: DrawerLine): void {
    this.editing = line.id;
    this.wrong = {};
    this.draft = {
      ohm: `${line.value} ${line.unit}`,
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
    const { ohm, count, tolerance, family } = this.draft;
    const whole = count.trim();
    if (whole && !/^\d+$/.test(whole)) {
      this.wrong = { count: `“${whole}” is no count: write a whole number, or nothing for plenty` };
      return false;
    }
    const body: LineAsk = { ohm, count: whole ? Number(whole) : null, tolerance, family };
    const id = this.editing;
    return this.settle(id === null ? newLine(body) : changeLine(id, body), "ohm");
  }
}
