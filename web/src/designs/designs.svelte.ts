/** The designs there are, with the one just deleted kept at hand. */
import { KIND_WORDS } from "../sheet/sentences";
import { Latest } from "../shell/latest";
import { allKept } from "../shell/saves";
import { listDesigns, newDesign, removeDesign, type Design } from "$api";

/** Designs shown at first, and at most; beyond it one looks for words. */
const PAGE = 100;
const MOST = 500;
/** How soon standings that are being worked out are asked for again. */
const AGAIN_MS = 1000;

export class DesignsState {
  rows = $state.raw<Design[] | null>(null);
  /** How many there are that have the words looked for. */
  total = $state(0);
  /** Of how many it is not worked out how they stand. */
  waiting = $state(0);
  words = $state("");
  removed = $state.raw<Design | null>(null);
  trouble = $state("");

  #latest = new Latest();
  #shown = PAGE;
  #again: ReturnType<typeof setTimeout> | undefined;

  async load(): Promise<void> {
    clearTimeout(this.#again);
    const asked = allKept().then(() => listDesigns(this.#shown, this.words.trim()));
    const found = await this.#latest.of(asked);
    if (!found) return;
    const { data, error } = found;
    this.trouble = error ? `The designs could not be read: ${error.detail}.` : "";
    if (!data) return;
    this.rows = data.rows;
    this.total = data.total;
    this.waiting = data.waiting;
    const missing = data.rows.some((row) => row.standing === null);
    if (missing) this.#again = setTimeout(() => void this.load(), AGAIN_MS);
  }

  /** Show as many more. */
  more(): void {
    this.#shown = Math.min(this.#shown + PAGE, MOST);
    void this.load();
  }

  find(words: string): void {
    this.words = words;
    this.#shown = PAGE;
    void this.load();
  }

  close(): void {
    clearTimeout(this.#again);
  }

  /** Start a design with the default brief; answers its id, or nothing where it failed. */
  async begin(kind: Design["kind"]): Promise<number | undefined> {
    const name = `New ${KIND_WORDS[kind].replace(/^an? /, "")}`;
    const { data, error } = await newDesign({ name, kind, brief: {}, prefer: "nearest", why: "" });
    this.trouble = error ? `No design was made: ${error.detail}.` : "";
    return data?.id;
  }

  async remove(design: Design): Promise<void> {
    const { error } = await removeDesign(design.id);
    if (error && error.status !== 404) {
      this.trouble = `“${design.name}” was not deleted: ${error.detail}.`;
      return;
    }
    this.removed = design;
    await this.load();
  }

  async putBack(): Promise<void> {
    if (!this.removed) return;
    const { name, kind, brief, prefer, choice, why } = this.removed;
    const { error } = await newDesign({ name, kind, brief, prefer, choice, why });
    if (error) {
      this.trouble = `“${name}” could not be put back: ${error.detail}.`;
      return;
    }
    this.removed = null;
    await this.load();
  }
}
