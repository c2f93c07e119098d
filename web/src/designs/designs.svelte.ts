/** The designs there are, with the one just deleted kept at hand. */
import { KIND_WORDS } from "../sheet/sentences";
import { Latest } from "../shell/latest";
import { allKept } from "../shell/saves";
import { listDesigns, newDesign, removeDesign, type Design } from "$api";

export class DesignsState {
  rows = $state.raw<Design[] | null>(null);
  removed = $state.raw<Design | null>(null);
  trouble = $state("");

  #latest = new Latest();

  async load(): Promise<void> {
    const found = await this.#latest.of(allKept().then(() => listDesigns()));
    if (!found) return;
    const { data, error } = found;
    this.trouble = error ? `The designs could not be read: ${error.detail}.` : "";
    if (data) this.rows = data;
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
