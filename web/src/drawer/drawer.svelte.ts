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

/** A line as typed: every cell is text until the server has understood it. */
export type Draft = { value: string; count: string; tolerance: string; family: string };
export const EMPTY: Draft = { value: "", count: "", tolerance: "1 %", family: "" };

type Pending = { file: File; lines: number };

export class DrawerState {
  drawer = $state.raw<DrawerAnswer | null>(null);
  trouble = $state("");
  draft = $state<Draft>({ ...EMPTY });
  /** What is wrong with the line being typed, by cell. */
  wrong = $state<Record<string, string>>({});
  editing = $state<number | null>(null);
  removed = $state.raw<DrawerLine | null>(null);
  pending = $state.raw<Pending | null>(null);
  refused = $state.raw<{ field: string; message: string }[]>([]);
  said = $state("");

  async load(): Promise<void> {
    const { data, error } = await getDrawer();
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
    this.leave();
    await this.load();
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
    if (error) this.trouble = `It could not be put back: ${error.detail}.`;
    else this.removed = null;
    await this.load();
  }

  /** Read a file without keeping any of it, so that one can decide what to do with it. */
  async open(file: File): Promise<void> {
    this.refused = [];
    this.said = "";
    this.pending = null;
    const { data, error } = await takeCsv(file, { how: "replace", only_try: true });
    if (data) this.pending = { file, lines: data.lines };
    else if (error.errors.length > 0) this.refused = error.errors;
    else this.refused = [{ field: file.name, message: error.detail }];
  }

  async take(how: "replace" | "add"): Promise<void> {
    if (!this.pending) return;
    const { file, lines } = this.pending;
    const { error } = await takeCsv(file, { how, only_try: false });
    this.pending = null;
    if (error) {
      this.refused = error.errors.length
        ? error.errors
        : [{ field: file.name, message: error.detail }];
      return;
    }
    this.said = `${lines} lines of ${file.name} are ${how === "replace" ? "the drawer now" : "added"}.`;
    await this.load();
  }
}
