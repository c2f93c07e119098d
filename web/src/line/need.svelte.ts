/** A need said in one line: what was understood of it, and the choice that stands first for it. */
import {
  askNetwork,
  askSheet,
  addReading,
  newDesign,
  newKey,
  readNeed,
  type AdvisedAnswer,
  type ChoiceRow,
  type NeedAnswer,
  type NetworkSheetAnswer,
  type SheetAnswer,
} from "$api";
import { Advising } from "../shell/advising.svelte";
import { Latest } from "../shell/latest";

/** A piece of the text: understood as a token, not understood, or neither a figure nor a name. */
export type Piece = { text: string; token?: string; message?: string };

export function piecesOf(text: string, read: NeedAnswer | null): Piece[] {
  if (!read) return text ? [{ text }] : [];
  const signs = Array.from(text);
  const told = [...read.understood, ...read.unread].sort((a, b) => a.from - b.from);
  const found: Piece[] = [];
  let at = 0;
  for (const piece of told) {
    if (piece.from > at) found.push({ text: signs.slice(at, piece.from).join("") });
    const own = signs.slice(piece.from, piece.to).join("");
    found.push(
      "token" in piece ? { text: own, token: piece.token } : { text: own, message: piece.message },
    );
    at = piece.to;
  }
  if (at < signs.length) found.push({ text: signs.slice(at).join("") });
  return found;
}

export class NeedState {
  text = $state("");
  /** One line makes one design, however often it is sent. */
  #key = newKey();
  read = $state.raw<NeedAnswer | null>(null);
  sheet = $state.raw<SheetAnswer | null>(null);
  /** Of a network as it stands, which is no need: what it folds to. */
  network = $state.raw<NetworkSheetAnswer | null>(null);
  /** Where nothing passes: the cheapest change that does, or that there is none. */
  readonly advising = new Advising();
  rescue = $derived<AdvisedAnswer | null>(this.advising.answer);
  trouble = $state("");
  making = $state(false);
  /** What was read of the board was sent with it once. */
  #taken = false;
  #asked = new Latest();
  #asking: AbortController | null = null;

  /** The text that the reading is of, and the one that what would be chosen is of. */
  #of = $state("");
  #chosenOf = $state("");
  /** What is shown as chosen is of an earlier text. */
  stale = $derived(this.#chosenOf !== this.text);
  pieces = $derived(piecesOf(this.text, this.#of === this.text ? this.read : null));
  first = $derived.by((): ChoiceRow | null => this.sheet?.choices[0] ?? null);
  /** What the sheet will say, token by token, in its own words. */
  said = $derived(
    Object.keys(this.read?.tokens ?? {}).map((name) => {
      const token = (this.sheet ?? this.network)?.tokens[name];
      return {
        name,
        label: token?.label ?? name.replace(/_(v|a|c|ohm)$/, "").replaceAll("_", " "),
        shown: token?.shown || (this.read?.tokens[name] ?? ""),
        wrong: token?.ok === false ? token.message : "",
      };
    }),
  );

  clear(): void {
    this.#asked.drop();
    this.#asking?.abort();
    this.text = this.trouble = "";
    this.advising.drop();
    this.read = this.sheet = this.network = null;
  }

  /** Where the first piece that is not understood stands in the text; nothing where all is. */
  get open(): [number, number] | null {
    const first = [...(this.read?.unread ?? [])].sort((a, b) => a.from - b.from)[0];
    if (!first || this.#of !== this.text) return null;
    const signs = Array.from(this.text);
    const upTo = (count: number) => signs.slice(0, count).join("").length;
    return [upTo(first.from), upTo(first.to)];
  }

  /** The first piece that is not understood and may be meant in ways that are known. */
  asked = $derived(this.read?.unread.find((one) => one.instead.length > 0) ?? null);

  /** What is likely said next; nothing while it is asked what something means. */
  next = $derived(this.asked ? [] : (this.read?.next ?? []));

  /** Take the words that are likely next; tells whether there were any. */
  takeNext(which = 0): boolean {
    const next = this.next[which];
    if (!next || this.#of !== this.text) return false;
    void this.type(Array.from(this.text).slice(0, next.from).join("") + next.text);
    return true;
  }

  /** Take one of the ways that it may be meant. */
  mean(which: number): boolean {
    const said = this.asked?.instead[which];
    if (!this.asked || said === undefined || this.#of !== this.text) return false;
    const signs = Array.from(this.text);
    signs.splice(this.asked.from, this.asked.to - this.asked.from, said);
    void this.type(signs.join(""));
    return true;
  }

  async type(text: string): Promise<void> {
    this.text = text;
    this.#key = newKey();
    this.#taken = false;
    this.trouble = "";
    const read = await this.#asked.of(readNeed({ text }));
    if (!read) return;
    if (read.error) {
      this.trouble = read.error.errors[0]?.message ?? read.error.detail;
      return;
    }
    const kind = this.read?.kind;
    this.read = read.data;
    this.#of = text;
    this.#asking?.abort();
    // Of another kind, what was chosen says nothing of this
    if (read.data.kind !== kind) this.sheet = this.network = null;
    if (read.data.kind === null) return;
    const mine = new AbortController();
    this.#asking = mine;
    try {
      const { kind, tokens: brief } = read.data;
      if (kind === "board") {
        this.#chosenOf = text;
        this.advising.drop();
        return;
      }
      if (kind === "network") {
        const { data } = await askNetwork({ brief } as never, mine.signal);
        if (this.#asking !== mine) return;
        this.network = data ?? null;
        this.#chosenOf = text;
        this.advising.drop();
        return;
      }
      const { data } = await askSheet({ kind, brief } as never, mine.signal);
      if (this.#asking !== mine) return;
      this.sheet = data ?? null;
      this.#chosenOf = text;
      void this.#lookForRescue();
    } catch (thrown) {
      if (!mine.signal.aborted) throw thrown;
    }
  }

  async #lookForRescue(): Promise<void> {
    this.advising.drop();
    const { read, sheet, first } = this;
    if (
      !read?.kind ||
      read.kind === "network" ||
      read.kind === "board" ||
      !sheet ||
      sheet.careful ||
      !first
    )
      return;
    const ask = { kind: read.kind, brief: read.tokens, choice: first.notation };
    await this.advising.of({ ...ask, distribution: "uniform" });
  }

  /** Make a design of what is read whole; answers its id, or nothing where it failed. */
  async make(): Promise<number | undefined> {
    if (this.#of !== this.text) await this.type(this.text);
    // What was typed on meanwhile is sent by itself
    if (this.#of !== this.text) return;
    if (this.making || !this.read?.kind || this.read.unread.length > 0) return;
    this.making = true;
    const { kind, tokens, name } = this.read;
    const body = { name, kind, brief: tokens, prefer: "nearest", why: "" };
    const { readings } = this.read;
    const { data, error } = await newDesign(body, this.#key);
    const refused = data && !this.#taken ? await this.#take(data.id, readings) : [];
    this.making = false;
    this.#taken = data !== undefined;
    if (error) this.trouble = `No design was made: ${error.detail}.`;
    else if (refused.length > 0)
      this.trouble = `The design is made; not taken with it: ${refused.join("; ")}. Enter opens it.`;
    else this.trouble = "";
    return refused.length > 0 ? undefined : data?.id;
  }

  /** Keep what was read of a board with it, in its order; answers what was refused, and why. */
  async #take(id: number, readings: NeedAnswer["readings"]): Promise<string[]> {
    const refused = [];
    for (const { point, text } of readings) {
      const { error } = await addReading(id, { point: point as { kind: "voltage" }, text });
      if (error) refused.push(`${text}: ${error.detail}`);
    }
    return refused;
  }
}
