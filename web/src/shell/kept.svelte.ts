/** One design as it is worked on: what was typed, keeping it, and what to do when it changed elsewhere. */
import { BuildState } from "../bench/build.svelte";
import { getDesign, listFamilies, newDesign, newKey, type Design } from "$api";

import { Address } from "./address";
import { isAway, outbox, sendDesign, type Sent } from "./outbox.svelte";
import { keeping } from "./saves";
import { status } from "./status.svelte";
import { store, stored } from "./storage";
import { Undoing, type Kept } from "./undoing";

const KEEP_AFTER_MS = 350;
const RETRY_MS = 2000;
const SLOW_AFTER_MS = 250;
const shortTime = new Intl.DateTimeFormat([], { timeStyle: "short" });

/** A design, or one of which nothing is kept until something is typed: its id is 0. */
export type Draft = Design & { from?: number };

/** What an older Lowfold kept in this browser alone becomes a design. */
export function inherit(
  design: KeptDesign,
  key: string,
  read: (text: string) => Record<string, string> | object,
): void {
  const text = stored(key);
  if (!text) return;
  try {
    Object.assign(design.brief, read(text));
  } catch {
    return; // what another program wrote there is no brief
  }
  store(key, null);
  design.keepSoon();
}

export abstract class KeptDesign {
  name = $state("");
  brief = $state<Record<string, string>>({});
  prefer = $state("nearest");
  why = $state("");
  choice = $state<string | null>(null);
  tags = $state.raw<string[]>([]);
  revision = $state(0);
  undoable = $state(false);
  redoable = $state(false);
  /** An answer to what was typed last is on its way; slow when it takes long. */
  asking = $state(false);
  slow = $state(false);
  trouble = $state("");
  missing = $state("");
  conflict = $state.raw<Design | null>(null);
  /** Names of the part families there are. */
  families = $state.raw<string[]>([]);

  abstract readonly kind: Design["kind"];
  /** 0 until something of it is kept. */
  id = $state(0);
  /** Which design a draft was begun from, 0 for none. */
  readonly from: number;
  /** How far it is built, as far as anything was read of it. */
  readonly build: BuildState;
  #asking: AbortController | null = null;
  /** Something was typed since the question under way was asked. */
  #again = false;
  #keeping = false;
  #dirty = false;
  /** Under which name it is held in this browser until it is kept, and by which key it is sent. */
  #held = "";
  #key = newKey();
  /** Sent and not answered: the server may have it. */
  #sent: Sent | null = null;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #closed = false;
  #address = new Address(location.hash.slice(1));
  #undoing: Undoing;

  constructor(design: Draft) {
    this.id = design.id;
    this.from = design.from ?? 0;
    this.build = new BuildState(design.id);
    this.#adopt(design);
    this.#undoing = new Undoing(this.#state());
    this.#held = design.id ? `design-${design.id}` : `draft-${newKey()}`;
    outbox.own(this.#held, true);
  }

  /** Go on from what was typed before and is not kept yet. */
  #takeUp(): void {
    const held = outbox.takeOver(this.#held);
    if (!held) return;
    this.standAs(held.state);
    this.revision = held.revision;
    this.#sent = held.sent;
    this.#key = held.key;
    this.#keepSoon();
  }

  #hold(): void {
    const { id, kind, revision } = this;
    const [key, state, sent] = [this.#key, this.#state(), this.#sent];
    outbox.hold(this.#held, {
      what: "design",
      at: Date.now(),
      id,
      kind,
      revision,
      key,
      state,
      sent,
    });
  }

  /** Ask the server what it makes of what was typed. */
  abstract work(signal: AbortSignal): Promise<{ error?: { status: number; detail: string } }>;

  /** Take over a design as stored. */
  take(design: Design): void {
    this.#adopt(design);
  }

  #adopt(design: Design): void {
    this.name = design.name;
    this.brief = Object.fromEntries(
      Object.entries(design.brief).map(([token, value]) => [token, String(value)]),
    );
    this.prefer = design.prefer;
    this.why = design.why;
    this.choice = design.choice;
    this.tags = design.tags;
    this.revision = design.revision;
  }

  #state(): Kept {
    const { name, prefer, why, choice, tags } = this;
    return { name, brief: { ...this.brief }, prefer, why, choice, tags };
  }

  /** Undo the last change, or do again what was undone. */
  undo(again = false): void {
    const kept = again ? this.#undoing.redo() : this.#undoing.undo();
    if (!kept) return;
    this.standAs(kept);
    this.changed();
  }

  /** Take on a state; which choice is looked at follows it. */
  protected standAs(kept: Kept): void {
    Object.assign(this, { ...kept, brief: { ...kept.brief } });
  }

  tag(tags: string[]): void {
    this.tags = tags;
    this.keepSoon();
  }

  open(): void {
    status.kept = this.id ? `revision ${this.revision}` : "not kept yet";
    status.trouble = false;
    this.#takeUp();
    void listFamilies().then(({ data }) => (this.families = (data ?? []).map((f) => f.name)));
    void this.ask().then(() => this.#lookAtBuild());
  }

  #lookAtBuild(): Promise<void> {
    const { kind, choice } = this;
    if (!this.id) return Promise.resolve();
    return this.build.look({ kind, brief: { ...this.brief }, choice });
  }

  rename(name: string): void {
    this.name = name;
    this.keepSoon();
  }

  /** What was written into the record last, of choice and reason. */
  #decided = $state("");
  /** The choice and its reason can be written into the record, and are not yet. */
  get decidable(): boolean {
    const said = this.choice !== null || this.kind === "network";
    const now = `${this.choice}\n${this.why}`;
    return said && this.why.trim() !== "" && this.#decided !== now;
  }

  /** Write the choice and its reason into the record, as they are now. */
  async decide(): Promise<void> {
    const { choice, why } = this;
    const text = why.trim();
    if (!text) return;
    const body = { kind: "decision" as const, text: text.slice(0, 4000), choice };
    if (!this.id) await this.keep();
    const { error } = await outbox.enter(this.id, body);
    if (error)
      this.trouble = isAway(error)
        ? `The decision is not written down yet: ${error.detail}. It is as soon as it can be.`
        : `The decision is not written down: ${error.detail}.`;
    else this.#decided = `${choice}\n${why}`;
  }

  explain(why: string): void {
    this.why = why;
    this.keepSoon();
  }

  /** Ask and keep, after something typed has changed. */
  changed(): void {
    void this.ask().then(() => this.#lookAtBuild());
    this.keepSoon();
  }

  /**
   * Ask. One question is under way at a time and the newest goes next; one that takes long is
   * dropped for it.
   */
  async ask(): Promise<void> {
    if (this.#asking && !this.slow) {
      this.#again = true;
      return;
    }
    this.#asking?.abort();
    this.#again = false;
    const mine = new AbortController();
    this.#asking = mine;
    this.asking = true;
    const slowly = setTimeout(() => {
      this.slow = true;
      if (this.#again) void this.ask();
    }, SLOW_AFTER_MS);
    try {
      const { error } = await this.work(mine.signal);
      if (this.#asking !== mine) return;
      this.trouble = error ? `Not worked out: ${error.detail}.` : "";
      if (error && [0, 503].includes(error.status))
        setTimeout(() => !this.#closed && !this.#asking && void this.ask(), RETRY_MS);
    } catch (thrown) {
      if (!mine.signal.aborted) throw thrown;
    } finally {
      clearTimeout(slowly);
      if (this.#asking === mine) {
        this.#asking = null;
        this.asking = this.slow = false;
        if (this.#again) void this.ask();
      }
    }
  }

  keepSoon(): void {
    this.#key = newKey();
    this.#keepSoon();
  }

  #keepSoon(): void {
    this.#undoing.note(this.#state(), performance.now());
    this.undoable = this.#undoing.undoable;
    this.redoable = this.#undoing.redoable;
    this.#dirty = true;
    this.#hold();
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
    this.#keeping = true;
    // What was sent and not answered goes first, with the key it had; what was typed since, after it
    const sent = (this.#sent ??= { key: this.#key, state: this.#state() });
    this.#hold();
    const { data, error } = await sendDesign(this, sent, leaving);
    this.#keeping = false;
    status.trouble = Boolean(error);
    if (error?.status !== 0) this.#sent = null;
    if (error) this.#hold();
    if (isAway(error)) this.#notYet(error?.detail ?? "");
    else if (data) this.#answered(data, sent, leaving);
    else if (error?.kept) await this.#keptAlready();
    else if (error) this.#refused(error, sent);
  }

  #notYet(why: string): void {
    const where = outbox.forbidden ? "in this tab alone" : "held in this browser";
    status.kept = `not kept yet, ${where}: ${why.split(":")[0]}`;
    if (!this.#closed) this.#timer = setTimeout(() => void this.keep(), RETRY_MS);
  }

  #answered(design: Design, sent: Sent, leaving = false): void {
    this.revision = design.revision;
    if (!this.id) this.#begun(design);
    status.kept = `kept ${shortTime.format(Date.parse(design.updated))}`;
    status.trouble = false;
    this.#dirty = sent.key !== this.#key;
    if (this.#dirty) void this.keep(leaving);
    else outbox.drop(this.#held);
  }

  #refused(error: { status: number; detail: string; current?: Design }, sent: Sent): void {
    const current = error.current;
    if (current && saysTheSame(current, sent.state)) {
      this.#answered(current, sent); // one's own save, whose answer was lost
      return;
    }
    status.kept = `not kept: ${error.detail.split(":")[0]}`;
    if (current) this.conflict = current;
    else if (error.status === 404) this.missing = "This design was deleted elsewhere.";
    else if (!this.#closed) this.#timer = setTimeout(() => void this.keep(), RETRY_MS);
  }

  /** It was kept as the server ended: go on from what is stored. */
  async #keptAlready(): Promise<void> {
    const { data } = this.id ? await getDesign(this.id) : {};
    if (data) this.#answered(data, { key: this.#key, state: this.#state() });
    else this.missing = "This was kept as the server ended: it is in the list of designs.";
  }

  /** A draft has become a design: its address is its own from here, and nothing is drawn anew. */
  #begun(design: Design): void {
    this.id = design.id;
    outbox.drop(this.#held);
    outbox.own(this.#held, false);
    this.#held = `design-${design.id}`;
    outbox.own(this.#held, true);
    this.build.id = design.id;
    this.name ||= design.name;
    this.#address.become(`/designs/${design.id}`);
  }

  /** After a conflict: take what is stored, put this one over it, or keep this one beside it. */
  async settle(how: "theirs" | "mine" | "both"): Promise<number | null> {
    const theirs = this.conflict;
    if (!theirs) return null;
    this.conflict = null;
    let copy: number | null = null;
    if (how === "mine") {
      this.revision = theirs.revision;
      this.#key = newKey();
      await this.keep();
      return null;
    }
    if (how === "both") {
      const mine = this.#state();
      const made = await newDesign({ ...mine, name: `${mine.name} (mine)`, kind: this.kind });
      if (made.error) {
        this.conflict = theirs;
        this.trouble = `Not kept beside it: ${made.error.detail}.`;
        return null;
      }
      copy = made.data.id;
    }
    this.#dirty = false;
    outbox.drop(this.#held);
    this.take(theirs);
    status.kept = `revision ${theirs.revision}`;
    status.trouble = false;
    await this.ask();
    return copy;
  }

  close(): void {
    this.#closed = true;
    this.#asking?.abort();
    void this.keep(true).finally(() => {
      outbox.own(this.#held, false);
      status.trouble = false;
    });
  }
}

/** Whether a stored design is what was typed. */
function saysTheSame(design: Design, state: Kept): boolean {
  const brief = Object.fromEntries(Object.entries(design.brief).map(([k, v]) => [k, String(v)]));
  const { name, prefer, why, choice, tags } = design;
  const texts = (one: Kept) =>
    JSON.stringify([one.name.trim(), one.prefer, one.why, one.choice, one.tags, sorted(one.brief)]);
  return texts({ name, prefer, why, choice, tags, brief }) === texts(state);
}

const sorted = (brief: Record<string, string>) => Object.entries(brief).toSorted();
