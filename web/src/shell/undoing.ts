/** What was done to a design while it is open, to be undone and done again. */

/** A design's state, as it is kept. */
export type Kept = {
  name: string;
  brief: Record<string, string>;
  prefer: string;
  why: string;
  choice: string | null;
  tags: string[];
};

/** Changes of one text within so long are one. */
const TYPING_MS = 1500;
const MOST = 200;

/** Where two states differ: a field's name, or a token's. */
function places(one: Kept, other: Kept): string[] {
  const fields = (["name", "prefer", "why", "choice"] as const).filter((f) => one[f] !== other[f]);
  const tokens = Object.keys({ ...one.brief, ...other.brief });
  const typed = tokens.filter((token) => one.brief[token] !== other.brief[token]);
  const tags = one.tags.join("\n") === other.tags.join("\n") ? [] : ["tags"];
  return [...fields, ...tags, ...typed.map((token) => `brief.${token}`)];
}

export class Undoing {
  #past: Kept[] = [];
  #future: Kept[] = [];
  #now: Kept;
  #place = "";
  #at = 0;

  constructor(now: Kept) {
    this.#now = now;
  }

  get undoable(): boolean {
    return this.#past.length > 0;
  }

  get redoable(): boolean {
    return this.#future.length > 0;
  }

  /** Note a state that was come to, at a time in ms; going on typing one text is one change. */
  note(now: Kept, at: number): void {
    const changed = places(this.#now, now);
    if (changed.length === 0) return;
    const place = changed.length === 1 ? (changed[0] ?? "") : "";
    const typing = place !== "" && place === this.#place && at - this.#at < TYPING_MS;
    const typed = place.startsWith("brief.") || place === "why" || place === "name";
    if (!(typing && typed)) this.#past = [...this.#past, this.#now].slice(-MOST);
    this.#future = [];
    this.#now = now;
    this.#place = place;
    this.#at = at;
  }

  /** The state before the last change, or nothing where there is none. */
  undo(): Kept | undefined {
    const before = this.#past.pop();
    if (!before) return undefined;
    this.#future.push(this.#now);
    return this.#stand(before);
  }

  redo(): Kept | undefined {
    const after = this.#future.pop();
    if (!after) return undefined;
    this.#past.push(this.#now);
    return this.#stand(after);
  }

  #stand(at: Kept): Kept {
    this.#now = at;
    this.#place = "";
    return at;
  }
}
