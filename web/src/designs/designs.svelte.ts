/** The designs there are: found, filtered, sorted, and brought a page at a time as one scrolls. */
import { Latest } from "../shell/latest";
import { WatchedJob } from "../shell/job.svelte";
import { allKept } from "../shell/saves";
import {
  bringBack,
  copyDesign,
  listDeleted,
  listDesigns,
  listTags,
  removeDesign,
  takeHandover,
  type DeletedDesign,
  type Design,
  type DesignQuery,
  type ImportedDesign,
} from "$api";

/** Designs brought at once. */
const PAGE = 100;
/** How soon standings that are being worked out are asked for again. */
const AGAIN_MS = 1000;

export type State = NonNullable<DesignQuery["state"]> | "";
export type Sort = NonNullable<DesignQuery["sort"]>;

export class DesignsState {
  /** Those that are here, by their place in the list; null until the first have come. */
  rows = $state.raw<Record<number, Design> | null>(null);
  /** How many there are that are looked for. */
  total = $state(0);
  /** Of how many it is not worked out how they stand. */
  waiting = $state(0);
  words = $state("");
  state = $state<State>("");
  tag = $state("");
  sort = $state<Sort>("changed");
  tags = $state.raw<string[]>([]);
  deleted = $state.raw<DeletedDesign[] | null>(null);
  removed = $state.raw<Design | null>(null);
  trouble = $state("");
  said = $state("");

  /** A word, a state or a tag is looked for. */
  narrowed = $derived(Boolean(this.words.trim() || this.state || this.tag));

  #latest = new Latest();
  #again: ReturnType<typeof setTimeout> | undefined;
  /** Pages on their way or here. */
  #pages: Record<number, boolean> = {};
  #seen = 0;

  #query(page: number): DesignQuery {
    const { state, tag, sort } = this;
    return {
      limit: PAGE,
      offset: page * PAGE,
      q: this.words.trim(),
      ...(state && { state }),
      ...(tag && { tag }),
      sort,
    };
  }

  async load(): Promise<void> {
    clearTimeout(this.#again);
    const page = Math.floor(this.#seen / PAGE);
    const asked = allKept().then(() => listDesigns(this.#query(page)));
    const found = await this.#latest.of(asked);
    if (!found) return;
    const { data, error } = found;
    this.trouble = error ? `The designs could not be read: ${error.detail}.` : "";
    if (!data) return;
    this.#pages = { [page]: true };
    this.rows = Object.fromEntries(data.rows.map((row, k) => [page * PAGE + k, row]));
    this.total = data.total;
    this.waiting = data.waiting;
    const missing = data.rows.some((row) => row.standing === null);
    if (missing) this.#again = setTimeout(() => void this.load(), AGAIN_MS);
    void listTags().then((tags) => (this.tags = tags.data ?? this.tags));
  }

  /** Bring what is to be seen from one place of the list to another. */
  see(first: number, last: number): void {
    this.#seen = first;
    for (let page = Math.floor(first / PAGE); page <= Math.floor(last / PAGE); page++) {
      if (!this.#pages[page] && this.rows) void this.#bring(page);
    }
  }

  async #bring(page: number): Promise<void> {
    const pages = this.#pages;
    pages[page] = true;
    const { data, error } = await listDesigns(this.#query(page));
    if (pages !== this.#pages) return; // something else is looked for meanwhile
    if (error) {
      pages[page] = false;
      this.trouble = `The designs could not be read: ${error.detail}.`;
      return;
    }
    const more = Object.fromEntries(data.rows.map((row, k) => [page * PAGE + k, row]));
    this.rows = { ...this.rows, ...more };
    this.total = data.total;
  }

  /** Look for something else, from the start of the list. */
  find(wanted: Partial<Pick<DesignsState, "words" | "state" | "tag" | "sort">>): void {
    Object.assign(this, wanted);
    this.#seen = 0;
    void this.load();
  }

  close(): void {
    clearTimeout(this.#again);
    this.#latest.drop();
  }

  /** Start a design as another one is; answers its id, or nothing where it failed. */
  async copy(design: Design): Promise<number | undefined> {
    const { data, error } = await copyDesign(design.id);
    this.trouble = error ? `“${design.name}” was not copied: ${error.detail}.` : "";
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
    if (this.deleted) await this.lookAtDeleted();
  }

  async lookAtDeleted(): Promise<void> {
    const { data, error } = await listDeleted();
    this.deleted = data ?? [];
    if (error) this.trouble = `What was deleted could not be read: ${error.detail}.`;
  }

  /** Bring a deleted design back, its record with it. */
  async putBack(design: { id: number; name: string }): Promise<void> {
    const { error } = await bringBack(design.id);
    if (error) {
      this.trouble = `“${design.name}” could not be put back: ${error.detail}.`;
      return;
    }
    this.removed = null;
    await this.load();
    if (this.deleted) await this.lookAtDeleted();
  }

  /** A file that takes long to read. */
  readonly reading = new WatchedJob();

  /** Take in one file; what came of it, or why nothing did. */
  async #taken(file: File): Promise<ImportedDesign | string> {
    const { data, error } = await takeHandover(file);
    if (error) return error.detail;
    if (!("state" in data)) return data;
    await this.reading.follow(Promise.resolve({ data }));
    const { job, trouble } = this.reading;
    return job?.state === "done" ? (job.result as ImportedDesign) : trouble || "it was stopped";
  }

  /** Take in files that hand designs over. */
  async takeIn(files: readonly File[]): Promise<void> {
    const said: string[] = [];
    let trouble = "";
    this.said = "";
    for (const file of files) {
      const data = await this.#taken(file);
      if (typeof data === "string") {
        trouble = `Nothing of ${file.name} is taken in: ${data}.`;
        break;
      }
      const count = data.imported.length;
      said.push(`“${data.name}”${count > 1 ? ` and ${count - 1} more` : ""}`);
      if (!data.as_written) said.push("(changed by hand after it was written)");
      if (data.kept_as_here.length > 0)
        said.push(`(${data.kept_as_here.join(", ")}: otherwise here, and left so)`);
      if (data.left_out.length > 0)
        said.push(`(left out, being no token of a brief here: ${data.left_out.join(", ")})`);
    }
    if (said.length > 0) {
      this.said = `Taken in: ${said.join(" ")}.`;
      await this.load();
    }
    this.trouble = trouble || this.trouble;
  }
}
