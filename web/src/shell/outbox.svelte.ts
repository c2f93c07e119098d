/**
 * What the server does not have yet stays in this browser until it does: across views, reloads and
 * restarts. Each piece has a key, so that one whose answer was lost is not done twice.
 */
import {
  addEntry,
  addReading,
  changeDesign,
  getHealth,
  newDesign,
  newKey,
  type Design,
  type EntryAsk,
  type Outcome,
  type NewReadingAsk,
  type Reading,
} from "$api";

import { keeping } from "./saves";
import { store, stored } from "./storage";
import type { Kept } from "./undoing";

const KEY = "lowfold-unsaved";
const AGAIN_MS = 2000;
/** Where windows cannot tell of each other: another may be typing it just now. */
const SETTLED_MS = 3000;
/** Each window holds a lock of its name as long as it is there. */
const LOCK = "lowfold-window-";
const here = newKey();

type Waiting = {
  key: string;
  at: number;
  /** Why the server does not take it: it is not sent again by itself. */
  stuck?: string;
};
/** Something that waits, as it is listed: where it is held, what it is, of which design. */
export type Listed = { at: string; words: string; id: number; stuck: string };
/** A state of a design on its way: sent again with its key until it is answered. */
export type Sent = { key: string; state: Kept };
/** A design as it was typed last; its id is 0 while the server has none. */
export type HeldDesign = Waiting & {
  what: "design";
  id: number;
  kind: Design["kind"];
  revision: number;
  state: Kept;
  /** What was sent before and not answered: the server may have it. */
  sent: Sent | null;
};
/** A line of a record. */
export type HeldEntry = Waiting & { what: "entry"; id: number; body: EntryAsk };
/** A reading, to be judged by the server. */
export type HeldReading = Waiting & { what: "reading"; id: number; body: NewReadingAsk };
export type Held = HeldDesign | HeldEntry | HeldReading;
type All = Record<string, Held>;

/** Whether the server did not take something for now, and may later. */
export const isAway = (error: { status: number } | undefined): boolean =>
  error !== undefined && [0, 503, 507].includes(error.status);

/** Send a state of a design; a new one where the server has none. */
export const sendDesign = (
  { id, kind, revision }: Pick<HeldDesign, "id" | "kind" | "revision">,
  { key, state }: Sent,
  leaving = false,
): Promise<Outcome<Design>> =>
  id
    ? changeDesign(id, { ...state, kind, revision }, key, leaving)
    : newDesign({ ...state, kind }, key, leaving);

/** Write a line into a record, or a reading to be judged. */
function write({ what, id, body, key }: HeldEntry | HeldReading): Promise<Outcome<Reading>> {
  if (what === "reading") return addReading(id, body, key);
  const { kind, point, text, meter = null, board = null } = body;
  // Held by an earlier version, which judged it itself
  if (kind === "reading" && point) return addReading(id, { point, text, meter, board }, key);
  return addEntry(id, body, key);
}

function read(): All {
  try {
    return JSON.parse(stored(KEY) ?? "{}") as All;
  } catch {
    return {}; // what another program wrote there is none of ours
  }
}

class Outbox {
  /** Those the server has not got, and that no open view is looking after. */
  waiting = $state(0);
  /** What that is. */
  listed = $state.raw<Listed[]>([]);
  /** This browser keeps nothing: what the server does not have is in this tab alone. */
  forbidden = $state(false);
  /** How often something was sent: what is listed may be another. */
  delivered = $state(0);
  /** What this browser would not keep. */
  #here: All = {};
  /** Which database is served: what was typed for another waits for that one. */
  #data = "";
  #owned = new Set<string>();
  /** Windows there are, where they can tell of each other. */
  #windows: Set<string> | null = null;
  #looked = 0;
  #told = new Map<string, (kept: Reading) => void>();
  #timer: ReturnType<typeof setTimeout> | undefined;
  #under: Promise<void> | null = null;

  /** What is held for the database that is served, by where it is held. */
  #all(): [string, Held][] {
    const every = Object.entries({ ...this.#here, ...read() });
    return every.filter(([at]) => at.startsWith(`${this.#data}/`));
  }

  /** Where this window holds something. */
  #at(name: string): string {
    return `${this.#data}/${name}/${here}`;
  }

  #name(at: string): string {
    return at.split("/")[1] ?? "";
  }

  /** Nobody looks after it: its window is gone, or has given it up. */
  #left([at, held]: [string, Held]): boolean {
    if (at.endsWith(`/${here}`)) return !this.#owned.has(this.#name(at));
    if (this.#windows && held.at < this.#looked)
      return !this.#windows.has(`${LOCK}${at.split("/")[2]}`);
    if (this.#windows) return false; // of a window that may have come since
    return Date.now() - held.at >= SETTLED_MS;
  }

  /** Learn which windows there are, and which database is served. */
  async #know(): Promise<void> {
    if ("locks" in navigator) {
      this.#looked = Date.now();
      const { held } = await navigator.locks.query();
      this.#windows = new Set(held?.map((lock) => lock.name ?? ""));
    }
    const { data } = await getHealth();
    if (!data?.data || data.data === this.#data) return;
    // What was held before that was known is for this one
    const before = this.#data ? [] : this.#all();
    this.#data = data.data;
    this.#write((all) => {
      for (const [at, held] of before) {
        Reflect.deleteProperty(all, at);
        all[`${this.#data}${at}`] = held;
      }
    });
  }

  #write(change: (all: All) => void): void {
    const all = read();
    change(all);
    change(this.#here);
    const none = Object.keys(all).length === 0;
    this.forbidden = !store(KEY, none ? null : JSON.stringify(all)) && !none;
    if (!this.forbidden) this.#here = {};
    this.#count();
  }

  #count(): void {
    const left = this.#all().filter((one) => this.#left(one));
    this.waiting = left.length;
    this.listed = left.map(([at, held]) => ({
      at,
      words: held.what === "design" ? held.state.name : held.body.text,
      id: held.id,
      stuck: held.stuck ?? "",
    }));
    clearTimeout(this.#timer);
    if (left.some(([, held]) => !held.stuck))
      this.#timer = setTimeout(() => void this.deliver(), AGAIN_MS);
  }

  /** A view looks after something itself, until it gives it up. */
  own(name: string, on: boolean): void {
    if (on) this.#owned.add(name);
    else this.#owned.delete(name);
    this.#count();
  }

  hold(name: string, held: Held): void {
    this.#write((all) => (all[this.#at(name)] = held));
  }

  drop(name: string): void {
    this.#drop(this.#at(name));
  }

  /** Give something up for good. */
  throwAway(at: string): void {
    this.#drop(at);
  }

  #drop(at: string): void {
    if (this.#all().some(([other]) => other === at))
      this.#write((all) => Reflect.deleteProperty(all, at));
  }

  /** Take over what was typed of a design last and is not kept yet, if nobody else looks after it. */
  takeOver(name: string): HeldDesign | null {
    const left = this.#all().filter(
      (one) => this.#name(one[0]) === name && (one[0] === this.#at(name) || this.#left(one)),
    );
    const [at, held] = left.toSorted(([, a], [, b]) => a.at - b.at).at(-1) ?? [];
    if (!at || held?.what !== "design") return null;
    this.#drop(at);
    return held;
  }

  /** Write a line into a record, now or as soon as the server is there again. */
  enter(
    id: number,
    body: EntryAsk,
    then?: (kept: Reading) => void,
    key = newKey(),
  ): Promise<Outcome<Reading>> {
    return this.#now({ what: "entry", key, at: Date.now(), id, body }, then);
  }

  /** Keep a reading, now or as soon as the server is there again. */
  read(
    id: number,
    body: NewReadingAsk,
    then?: (kept: Reading) => void,
    key = newKey(),
  ): Promise<Outcome<Reading>> {
    return this.#now({ what: "reading", key, at: Date.now(), id, body }, then);
  }

  /** It is held from the beginning: who leaves before it is answered has not lost it. */
  async #now(
    held: HeldEntry | HeldReading,
    then?: (kept: Reading) => void,
  ): Promise<Outcome<Reading>> {
    const { key } = held;
    this.#owned.add(key);
    this.hold(key, held);
    const found = await write(held);
    this.#owned.delete(key);
    if (!isAway(found.error)) this.drop(key);
    else {
      if (then) this.#told.set(key, then);
      this.#count();
    }
    return found;
  }

  /** Send what waits from before, before anything is read; where nothing does, nobody waits. */
  begin(): Promise<void> {
    if ("locks" in navigator)
      void navigator.locks.request(`${LOCK}${here}`, () => new Promise(() => undefined));
    const sent = this.deliver();
    return Object.keys(read()).length > 0 ? sent : Promise.resolve();
  }

  /** Send what waits; settles once all of it was tried. */
  deliver(): Promise<void> {
    this.#under ??= this.#deliver().finally(() => {
      this.#under = null;
      this.#count();
    });
    keeping(this.#under);
    return this.#under;
  }

  async #deliver(): Promise<void> {
    await this.#know();
    const left = this.#all().filter((one) => this.#left(one));
    for (const [at, held] of left.toSorted(([, a], [, b]) => a.at - b.at)) {
      const away =
        held.what === "design" ? await this.#save(at, held) : await this.#enter(at, held);
      if (away) return;
    }
  }

  #sent(at: string): void {
    this.#drop(at);
    this.delivered++;
  }

  /** Tells whether the server is away. */
  async #enter(at: string, held: HeldEntry | HeldReading): Promise<boolean> {
    if (held.stuck) return false;
    const { data, error } = await write(held);
    if (isAway(error)) return true;
    if (error && !error.kept) {
      this.#write((all) => (all[at] = { ...held, stuck: error.detail }));
      return false;
    }
    this.#sent(at);
    if (data) this.#told.get(held.key)?.(data);
    this.#told.delete(held.key);
    return false;
  }

  async #save(at: string, held: HeldDesign): Promise<boolean> {
    if (held.stuck) return false;
    const { data, error } = await sendDesign(held, held.sent ?? held);
    if (isAway(error)) return true;
    const again = (more: Partial<HeldDesign>) =>
      this.#write((all) => (all[at] = { ...held, ...more }));
    if (data && held.sent) {
      const { id, revision } = data;
      again({ id, revision, sent: null });
      return this.#save(at, { ...held, id, revision, sent: null });
    }
    // Where it was deleted meanwhile it is begun anew; where it was changed, whoever opens it decides
    if (error?.status === 404) again({ id: 0, sent: null, key: newKey() });
    else if (error && !error.kept) again({ stuck: error.detail });
    else this.#sent(at);
    return false;
  }
}

export const outbox = new Outbox();
