/** One open sheet: the brief as typed, what the server makes of it, and keeping it. */
import {
  askSheet,
  askTrades,
  changeDesign,
  getDesign,
  newDesign,
  type BriefKind,
  type ChoiceAnswer,
  type Design,
  type SheetAnswer,
  type TradesAnswer,
} from "$api";
import { arranged, type Filter, type Order } from "./ordering";
import { keeping } from "../shell/saves";
import { status } from "../shell/status.svelte";

const KEEP_AFTER_MS = 350;
const RETRY_MS = 2000;
const SLOW_AFTER_MS = 250;
const FIRST_LISTED = 12;
const MOST_LISTED = 60;
const shortTime = new Intl.DateTimeFormat([], { timeStyle: "short" });

export class SheetState {
  name = $state("");
  kind = $state<BriefKind>("divider");
  brief = $state<Record<string, string>>({});
  prefer = $state("nearest");
  why = $state("");
  choice = $state<string | null>(null);
  revision = $state(0);

  /** The latest answer, and the latest one whose every token was understood. */
  answer = $state.raw<SheetAnswer | null>(null);
  understood = $state.raw<SheetAnswer | null>(null);
  cursor = $state<string | null>(null);
  slow = $state(false);
  trouble = $state("");
  missing = $state("");
  conflict = $state.raw<Design | null>(null);

  order = $state<Order>("preferred");
  filter = $state<Filter>("all");
  /** A choice that is neither listed nor pinned, but looked at: picked from a picture. */
  look = $state<string | null>(null);
  trading = $state(false);
  trades = $state.raw<TradesAnswer | null>(null);

  rows = $derived<ChoiceAnswer[]>(
    arranged(this.understood?.choices ?? [], this.order, this.filter),
  );
  shown = $derived<ChoiceAnswer | null>(
    this.rows.find((row) => row.notation === this.cursor) ??
      this.rows.find((row) => row.pinned) ??
      this.rows[0] ??
      null,
  );
  stale = $derived(this.answer !== null && this.answer !== this.understood);

  readonly id: number;
  #listed = FIRST_LISTED;
  #asking: AbortController | null = null;
  #keeping = false;
  #dirty = false;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #closed = false;

  constructor(id: number) {
    this.id = id;
  }

  async open(): Promise<void> {
    const { data, error } = await getDesign(this.id);
    if (error) {
      this.missing = error.status === 404 ? "There is no such design." : error.detail;
      return;
    }
    this.#take(data);
    status.kept = `revision ${data.revision}`;
    await this.ask();
  }

  #take(design: Design): void {
    this.name = design.name;
    this.kind = design.kind;
    this.brief = Object.fromEntries(
      Object.entries(design.brief).map(([token, value]) => [token, String(value)]),
    );
    this.prefer = design.prefer;
    this.why = design.why;
    this.choice = design.choice;
    this.revision = design.revision;
    this.cursor = design.choice;
  }

  /** The text of a token: as typed, else the default the server gave it. */
  text(token: string): string {
    return this.brief[token] ?? this.answer?.tokens[token]?.text ?? "";
  }

  type(token: string, text: string): void {
    this.brief[token] = text;
    this.#changed();
  }

  choose(prefer: string): void {
    this.prefer = prefer;
    this.cursor = null;
    this.#changed();
  }

  rename(name: string): void {
    this.name = name;
    this.#keepSoon();
  }

  explain(why: string): void {
    this.why = why;
    this.#keepSoon();
  }

  /** Pin the shown choice, or let it go if it is the pinned one. */
  pin(): void {
    if (!this.shown || this.stale) return;
    this.choice = this.shown.pinned ? null : this.shown.notation;
    this.cursor = this.shown.notation;
    this.#changed();
  }

  walk(step: number): void {
    if (!this.shown) return;
    const here = this.rows.indexOf(this.shown);
    const next = Math.min(Math.max(here + step, 0), this.rows.length - 1);
    this.cursor = this.rows[next]?.notation ?? null;
  }

  /** Look at a choice that is not listed, with everything the listed ones show. */
  lookAt(notation: string): void {
    this.cursor = notation;
    if (this.rows.some((row) => row.notation === notation)) return;
    this.look = notation;
    void this.ask();
  }

  listMore(): void {
    this.#listed = MOST_LISTED;
    void this.ask();
  }

  /** Show what accuracy costs in current in place of the list, or the list again. */
  trade(on: boolean): void {
    this.trading = on;
    if (on) void this.#askTrades();
  }

  async #askTrades(): Promise<void> {
    const asked = JSON.stringify(this.brief);
    this.trades = null;
    const { data, error } = await askTrades({ kind: this.kind, brief: this.brief });
    if (asked !== JSON.stringify(this.brief)) return;
    if (error) this.trouble = `Not worked out: ${error.detail}.`;
    else this.trades = data;
  }

  #changed(): void {
    this.look = null;
    void this.ask();
    if (this.trading) void this.#askTrades();
    this.#keepSoon();
  }

  /** Ask for the sheet; an older question still under way is dropped. */
  async ask(): Promise<void> {
    this.#asking?.abort();
    const mine = new AbortController();
    this.#asking = mine;
    const slowly = setTimeout(() => (this.slow = true), SLOW_AFTER_MS);
    try {
      const { kind, brief, prefer, choice, look } = this;
      const body = { kind, brief, prefer, choice, look, listed: this.#listed };
      const { data, error } = await askSheet(body, mine.signal);
      if (this.#asking !== mine) return;
      this.trouble = error ? `Not worked out: ${error.detail}.` : "";
      if (data) {
        this.answer = data;
        if (data.scale) this.understood = data;
      }
      if (error?.status === 0) setTimeout(() => this.#asking === mine && void this.ask(), RETRY_MS);
    } catch (thrown) {
      if (!mine.signal.aborted) throw thrown;
    } finally {
      clearTimeout(slowly);
      if (this.#asking === mine) this.slow = false;
    }
  }

  #keepSoon(): void {
    this.#dirty = true;
    status.kept = "keeping…";
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.keep(), KEEP_AFTER_MS);
  }

  /** Save what changed; one save at a time, each from the revision the last one made. */
  keep(leaving = false): Promise<void> {
    const save = this.#keep(leaving);
    keeping(save);
    return save;
  }

  async #keep(leaving: boolean): Promise<void> {
    if (!this.#dirty || this.#keeping || this.conflict) return;
    clearTimeout(this.#timer);
    this.#dirty = false;
    this.#keeping = true;
    const { name, kind, prefer, why, choice, revision } = this;
    const body = { name, kind, brief: { ...this.brief }, prefer, why, choice, revision };
    const { data, error } = await changeDesign(this.id, body, leaving);
    this.#keeping = false;
    status.trouble = Boolean(error);
    if (data) {
      this.revision = data.revision;
      status.kept = `kept ${shortTime.format(Date.parse(data.updated))}`;
      if (this.#dirty) void this.keep(leaving);
      return;
    }
    this.#dirty = true;
    status.kept = `not kept: ${error.detail.split(":")[0]}`;
    if (error.current) this.conflict = error.current;
    else if (error.status === 404) this.missing = "This design was deleted elsewhere.";
    else if (!this.#closed) this.#timer = setTimeout(() => void this.keep(), RETRY_MS);
  }

  /** After a conflict: take what is stored, put this one over it, or keep this one beside it. */
  async settle(how: "theirs" | "mine" | "both"): Promise<number | null> {
    const theirs = this.conflict;
    if (!theirs) return null;
    this.conflict = null;
    let copy: number | null = null;
    if (how === "mine") {
      this.revision = theirs.revision;
      await this.keep();
      return null;
    }
    if (how === "both") {
      const { name, kind, prefer, why, choice } = this;
      const brief = { ...this.brief };
      const made = await newDesign({ name: `${name} (mine)`, kind, brief, prefer, why, choice });
      if (made.error) {
        this.conflict = theirs;
        this.trouble = `Not kept beside it: ${made.error.detail}.`;
        return null;
      }
      copy = made.data.id;
    }
    this.#dirty = false;
    this.#take(theirs);
    status.kept = `revision ${theirs.revision}`;
    status.trouble = false;
    await this.ask();
    return copy;
  }

  close(): void {
    this.#closed = true;
    this.#asking?.abort();
    void this.keep(true);
  }
}
