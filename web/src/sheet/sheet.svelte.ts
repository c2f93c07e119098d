/** One open sheet: the brief as typed and what the server makes of it. */
import {
  askBeside,
  askSheet,
  askShown,
  askTrades,
  type AdvisedAnswer,
  type BesideAnswer,
  type BriefKind,
  type ChoiceRow,
  type Design,
  type SheetAnswer,
  type ShownAnswer,
  type TradesAnswer,
} from "$api";

import { KeptDesign, type Draft } from "../shell/kept.svelte";
import type { Before, Subject } from "../opened/opened.svelte";
import { Advising } from "../shell/advising.svelte";
import { Latest } from "../shell/latest";
import type { Kept } from "../shell/undoing";
import { arranged, type Filter, type Order } from "./ordering";

const FIRST_LISTED = 12;
const MOST_LISTED = 60;

export class SheetState extends KeptDesign implements Subject {
  readonly kind: BriefKind;

  /** The latest answer, and the latest one whose every token was understood. */
  answer = $state.raw<SheetAnswer | null>(null);
  understood = $state.raw<SheetAnswer | null>(null);
  cursor = $state<string | null>(null);
  order = $state<Order>("preferred");
  filter = $state<Filter>("all");
  /** A choice that is neither listed nor pinned, but looked at: picked from a picture. */
  look = $state<string | null>(null);
  /** The choice that the one under the cursor is set beside. */
  held = $state<string | null>(null);
  beside = $state.raw<BesideAnswer | null>(null);
  /** Where nothing passes: the cheapest change that does, or that there is none. */
  readonly advising = new Advising();
  rescue = $derived<AdvisedAnswer | null>(this.advising.answer);
  trading = $state(false);
  trades = $state.raw<TradesAnswer | null>(null);

  rows = $derived<ChoiceRow[]>(arranged(this.understood?.choices ?? [], this.order, this.filter));
  shown = $derived<ChoiceRow | null>(
    this.rows.find((row) => row.notation === this.cursor) ??
      this.rows.find((row) => row.pinned) ??
      this.rows[0] ??
      null,
  );
  #full = $state.raw<ShownAnswer | null>(null);
  /** The choice under the cursor in full; the one before it until that has come. */
  inFull = $derived<ShownAnswer | null>(this.shown ? this.#full : null);
  notation = $derived(this.shown?.notation ?? "");
  title = $derived(this.notation);
  stale = $derived(this.answer !== null && this.answer !== this.understood);

  #listed = FIRST_LISTED;
  #fulls: Record<string, ShownAnswer> = {};
  #latest = new Latest();
  #latestTrades = new Latest();
  #latestBeside = new Latest();

  constructor(design: Draft) {
    super(design);
    this.kind = design.kind as BriefKind;
    this.cursor = design.choice;
  }

  override take(design: Design): void {
    super.take(design);
    this.cursor = design.choice;
  }

  protected override standAs(kept: Kept): void {
    super.standAs(kept);
    this.cursor = kept.choice;
    this.look = null;
  }

  async work(signal: AbortSignal) {
    const { kind, brief, prefer, choice, look, cursor } = this;
    const body = { kind, brief, prefer, choice, look, cursor, listed: this.#listed };
    const { data, error } = await askSheet(body, signal);
    if (data && !signal.aborted) {
      this.answer = data;
      if (data.scale) {
        this.understood = data;
        this.#fulls = data.shown ? { [data.shown.notation]: data.shown } : {};
        void this.#setBeside();
        void this.#lookForRescue(data);
        await this.#show();
      }
    }
    return error ? { error } : {};
  }

  /** The text of a token: as typed, else the default the server gave it. */
  text(token: string): string {
    return this.brief[token] ?? this.answer?.tokens[token]?.text ?? "";
  }

  type(token: string, text: string): void {
    this.brief[token] = text;
    this.#retyped();
  }

  choose(prefer: string): void {
    this.prefer = prefer;
    this.cursor = null;
    this.#retyped();
  }

  /** Pin the shown choice, or let it go if it is the pinned one. */
  pin(): void {
    if (!this.shown || this.stale) return;
    this.choice = this.shown.pinned ? null : this.shown.notation;
    this.cursor = this.shown.notation;
    this.#retyped();
  }

  walk(step: number): void {
    if (!this.shown) return;
    const here = this.rows.indexOf(this.shown);
    const next = Math.min(Math.max(here + step, 0), this.rows.length - 1);
    this.stand(this.rows[next]?.notation ?? null);
  }

  /** Put the cursor on a choice. */
  stand(notation: string | null): void {
    this.cursor = notation;
    void this.#show();
    void this.#setBeside();
  }

  /** Bring what is shown of the choice under the cursor. */
  async #show(): Promise<void> {
    const { kind, brief, notation } = this;
    const known = this.#fulls[notation];
    if (known) {
      this.#latest.drop();
      this.#full = known;
      return;
    }
    if (!notation || this.stale) return;
    const fulls = this.#fulls;
    const found = await this.#latest.of(askShown({ kind, brief, choice: notation }));
    if (!found?.data) return;
    fulls[notation] = found.data;
    if (fulls === this.#fulls) this.#full = found.data;
  }

  /** Stand on the same ratio of values a power of ten up or down. */
  decade(step: number): void {
    const row = this.shown;
    if (!row || row.decades.length === 0) return;
    const next = (step > 0 ? row.after : row.before) ?? null;
    if (next) this.lookAt(next);
  }

  /** Hold the choice under the cursor beside the others, or let it go. */
  hold(): void {
    this.held = this.held === null && this.notation ? this.notation : null;
    this.beside = null;
    void this.#setBeside();
  }

  async #setBeside(): Promise<void> {
    const { kind, brief, held, notation } = this;
    if (!held || !notation || this.stale) return;
    const ask = { kind, brief, one: held, two: notation };
    const found = await this.#latestBeside.of(askBeside(ask));
    if (found?.error) this.trouble = `Not set side by side: ${found.error.detail}.`;
    else if (found) this.beside = found.data;
  }

  /** Look at a choice that is not listed, with everything the listed ones show. */
  lookAt(notation: string): void {
    this.stand(notation);
    if (this.rows.some((row) => row.notation === notation)) return;
    this.look = notation;
    void this.ask();
  }

  /** Look at the choice that a careful designer takes, or follow the cheapest change. */
  lookAtCareful(): void {
    const careful = this.understood?.careful;
    const way = this.rescue?.cheapest;
    if (careful) this.lookAt(careful.notation);
    else if (way && !this.stale) this.follow(way.changes, way.choice);
  }

  /** Work out beside the sheet what would pass, where nothing listed does. */
  async #lookForRescue(sheet: SheetAnswer): Promise<void> {
    this.advising.drop();
    const first = sheet.choices.find((row) => row.listed) ?? sheet.choices[0];
    if (sheet.careful || !first) return;
    const { kind, brief } = this;
    const ask = { kind, brief, choice: first.notation, distribution: "uniform" as const };
    await this.advising.of(ask);
  }

  listMore(): void {
    this.#listed = MOST_LISTED;
    void this.ask();
  }

  /** Put changes of the brief in and pin a choice, as advice says; answers how it was before. */
  follow(changes: Record<string, string>, choice: string): Before {
    const before = { brief: { ...this.brief }, choice: this.choice };
    Object.assign(this.brief, changes);
    this.choice = this.cursor = choice;
    this.#retyped();
    return before;
  }

  putBack(before: Before): void {
    this.brief = { ...before.brief };
    this.choice = this.cursor = before.choice;
    this.#retyped();
  }

  /** Show what accuracy costs in current in place of the list, or the list again. */
  trade(on: boolean): void {
    this.trading = on;
    if (on) void this.#askTrades();
  }

  async #askTrades(): Promise<void> {
    this.trades = null;
    const found = await this.#latestTrades.of(askTrades({ kind: this.kind, brief: this.brief }));
    if (found?.error) this.trouble = `Not worked out: ${found.error.detail}.`;
    else if (found) this.trades = found.data;
  }

  #retyped(): void {
    this.look = null;
    this.changed();
    if (this.trading) void this.#askTrades();
  }
}
