/**
 * What the server does not have yet stays in this browser until it does: across views, reloads and
 * restarts. Each piece has a key, so that one whose answer was lost is not done twice.
 */
import {
  addEntry,
  changeDesign,
  newDesign,
  newKey,
  type Design,
  type EntryAsk,
  type Outcome,
  type Reading,
} from "$api";

import { keeping } from "./saves";
import { store, stored } from "./storage";
import type { Kept } from "./undoing";

const KEY = "lowfold-unsaved";
const AGAIN_MS = 2000;
/** Another window may be typing it just now. */
const SETTLED_MS = 5000;

type Waiting = { key: string; at: number };
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
  /** The stored one is another: whoever opens the design decides. */
  stuck?: boolean;
};
/** A line of a record. */
export type HeldEntry = Waiting & { what: "entry"; id: number; body: EntryAsk };
export type Held = HeldDesign | HeldEntry;
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
  /** This browser keeps nothing: what the server does not have is in this tab alone. */
  forbidden = $state(false);
  /** As kept in this browser, and what it would not keep. */
  #here: All = {};
  #owned = new Set<string>();
  #told = new Map<string, (kept: Reading) => void>();
  #timer: ReturnType<typeof setTimeout> | undefined;
  #under: Promise<void> | null = null;

  #all(): All {
    return { ...this.#here, ...read() };
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
    const all = Object.entries(this.#all());
    this.waiting = all.filter(([name]) => !this.#owned.has(name)).length;
    clearTimeout(this.#timer);
    if (this.waiting > 0) this.#timer = setTimeout(() => void this.deliver(), AGAIN_MS);
  }

  /** A view looks after something itself, until it gives it up. */
  own(name: string, on: boolean): void {
    if (on) this.#owned.add(name);
    else this.#owned.delete(name);
    this.#count();
  }

  hold(name: string, held: Held): void {
    this.#write((all) => (all[name] = held));
  }

  drop(name: string): void {
    if (name in this.#all()) this.#write((all) => Reflect.deleteProperty(all, name));
  }

  /** What is held of a design. */
  of(name: string): HeldDesign | null {
    const held = this.#all()[name];
    return held?.what === "design" ? held : null;
  }

  /** Write a line into a record, now or as soon as the server is there again. */
  async enter(
    id: number,
    body: EntryAsk,
    then?: (kept: Reading) => void,
    key = newKey(),
  ): Promise<Outcome<Reading>> {
    const found = await addEntry(id, body, key);
    if (isAway(found.error)) {
      if (then) this.#told.set(key, then);
      this.hold(key, { what: "entry", key, at: Date.now(), id, body });
    }
    return found;
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
    const all = Object.entries(this.#all()).sort(([, a], [, b]) => a.at - b.at);
    for (const [name, held] of all) {
      if (this.#owned.has(name)) continue;
      const away =
        held.what === "entry" ? await this.#enter(name, held) : await this.#save(name, held);
      if (away) return;
    }
  }

  /** Tells whether the server is away. */
  async #enter(name: string, held: HeldEntry): Promise<boolean> {
    const { data, error } = await addEntry(held.id, held.body, held.key);
    if (isAway(error)) return true;
    this.drop(name);
    if (data) this.#told.get(name)?.(data);
    this.#told.delete(name);
    return false;
  }

  async #save(name: string, held: HeldDesign): Promise<boolean> {
    if (held.stuck || Date.now() - held.at < SETTLED_MS) return false;
    const { data, error } = await sendDesign(held, held.sent ?? held);
    if (isAway(error)) return true;
    if (data && held.sent) {
      const { id, revision } = data;
      this.hold(name, { ...held, id, revision, sent: null });
      return this.#save(name, { ...held, id, revision, sent: null });
    }
    // Where it was deleted meanwhile it is begun anew; where it was changed, whoever opens it decides
    if (error?.status === 404) this.hold(name, { ...held, id: 0, sent: null, key: newKey() });
    else if (error && !error.kept) this.hold(name, { ...held, stuck: true });
    else this.drop(name);
    return false;
  }
}

export const outbox = new Outbox();
