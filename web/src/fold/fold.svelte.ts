/** A network as typed, what the server folds it to, and where in the folding one stands. */
import {
  askNetwork,
  askRelation,
  askUnknown,
  editNetwork,
  type FoldAnswer,
  type FoldStep,
  type NetworkSheetAnswer,
  type RelationAnswer,
  type UnknownAnswer,
} from "$api";

import { View } from "../kit/view.svelte";
import { KeptDesign } from "../shell/kept.svelte";
import { store, stored } from "../shell/storage";
import { Latest } from "../shell/latest";
import type { Before, Subject } from "../opened/opened.svelte";
import type { Symbol } from "./drawn";

const LETTER_KEY = "lowfold-letter";
const SYMBOL_KEY = "lowfold-symbol";
const HEIGHTS_KEY = "lowfold-heights";
export type School = "reciprocals" | "conductances" | "product";
export type Direction = "fold" | "unfold";

export class FoldState extends KeptDesign implements Subject {
  readonly kind = "network" as const;
  answer = $state.raw<NetworkSheetAnswer | null>(null);
  understood = $state.raw<NetworkSheetAnswer | null>(null);
  school = $state<School>("reciprocals");
  digits = $state(4);
  /** The letter a voltage goes by. */
  letter = $state<"V" | "U">(stored(LETTER_KEY) === "U" ? "U" : "V");
  symbol = $state<Symbol>(stored(SYMBOL_KEY) === "zigzag" ? "zigzag" : "rectangle");
  /** The same network in another state, side by side. */
  other = $state.raw<FoldAnswer | null>(null);
  compared = $state("");
  /** How many steps have been folded; 0 is the network as drawn. */
  at = $state(0);
  direction = $state<Direction>("fold");
  picked = $state<string[]>([]);
  /** Whether the potentials stand beside the drawing as heights. */
  tall = $state(stored(HEIGHTS_KEY) === "yes");
  readonly view = new View();
  relation = $state.raw<RelationAnswer | null>(null);
  unknown = $state.raw<UnknownAnswer | null>(null);
  unknownTrouble = $state("");

  folded = $derived<FoldAnswer | null>(this.understood?.folded ?? null);
  steps = $derived<FoldStep[]>(this.folded?.steps ?? []);
  place = $derived(Math.min(this.at, this.steps.length));
  /** The step just taken, or the one to be undone next. */
  step = $derived<FoldStep | null>(this.steps[this.place - 1] ?? null);
  stale = $derived(this.answer !== null && this.answer !== this.understood);

  #compared = new Latest();
  #related = new Latest();
  #found = new Latest();

  readonly notation = "";
  title = $derived(this.name || "the network");

  async work(signal: AbortSignal) {
    const { brief, school, digits } = this;
    const { data, error } = await askNetwork({ brief, school, digits }, signal);
    if (data && !signal.aborted) {
      this.answer = data;
      if (data.folded) this.understood = data;
    }
    return error ? { error } : {};
  }

  text(token: string): string {
    return this.brief[token] ?? this.answer?.tokens[token]?.text ?? "";
  }

  type(token: string, text: string): void {
    this.brief[token] = text;
    this.picked = [];
    this.relation = null;
    this.other = null;
    this.compared = "";
    this.changed();
  }

  /** Put changes of the brief in, as advice says; answers how it was before. */
  follow(changes: Record<string, string>): Before {
    const before = { brief: { ...this.brief }, choice: null };
    Object.assign(this.brief, changes);
    this.changed();
    return before;
  }

  putBack(before: Before): void {
    this.brief = { ...before.brief };
    this.changed();
  }

  teach(school: School): void {
    this.school = school;
    void this.ask();
  }

  show(digits: number): void {
    this.digits = digits;
    void this.ask();
  }

  call(letter: "V" | "U"): void {
    this.letter = letter;
    store(LETTER_KEY, letter);
  }

  /** A rule in symbols, with the letter chosen for voltages. */
  say(rule: string): string {
    return rule.replaceAll(/\bV\b/g, this.letter);
  }

  drawWith(symbol: Symbol): void {
    this.symbol = symbol;
    store(SYMBOL_KEY, symbol);
  }

  showHeights(on: boolean): void {
    this.tall = on;
    store(HEIGHTS_KEY, on ? "yes" : "no");
  }

  /** The same network in other states, to be set beside it. */
  others = $derived(Object.keys(this.understood?.variants ?? {}));

  async compare(what: string): Promise<void> {
    this.compared = what;
    this.other = null;
    this.#compared.drop();
    if (!what) return;
    const brief = this.understood?.variants[what] ?? {};
    const { school, digits } = this;
    const signal = new AbortController().signal;
    const found = await this.#compared.of(askNetwork({ brief, school, digits }, signal));
    this.other = found?.data?.folded ?? null;
    if (found?.error) this.trouble = `Not worked out: ${found.error.detail}.`;
  }

  #thrown(ref: string): string {
    const closed = (this.understood?.switches ?? [])
      .filter((s) => (s.ref === ref ? !s.closed : s.closed))
      .map((s) => s.ref);
    return closed.join(" ") || "none";
  }

  go(step: number): void {
    this.direction = step > 0 ? "fold" : "unfold";
    this.#to(Math.min(Math.max(this.place + step, 0), this.steps.length));
  }

  jump(to: number): void {
    this.direction = to >= this.place ? "fold" : "unfold";
    this.#to(to);
  }

  /** Stand at a step; what is picked in the drawing of another is not asked about here. */
  #to(place: number): void {
    if (place !== this.place) {
      this.picked = [];
      this.relation = null;
    }
    this.at = place;
  }

  /** Throw a switch. */
  throwSwitch(ref: string): void {
    this.type("closed", this.#thrown(ref));
  }

  /** Pick a part; two of them are asked about. */
  async pick(ref: string): Promise<void> {
    this.picked = this.picked.includes(ref)
      ? this.picked.filter((other) => other !== ref)
      : [...this.picked.slice(-1), ref];
    this.relation = null;
    this.#related.drop();
    const [one, two] = this.picked;
    if (!one || !two) return;
    const { brief, school, place } = this;
    const ask = { brief, school, digits: 4, one, two, step: place };
    const found = await this.#related.of(askRelation(ask));
    if (!found || this.place !== place) return;
    this.relation = found.data ?? { kind: "not told", reason: found.error.detail };
  }

  editTrouble = $state("");

  /** Edit the picked part; the network's text changes with it. */
  async edit(action: "change" | "series" | "parallel" | "remove", value: string): Promise<void> {
    const [ref] = this.picked;
    if (!ref) return;
    const ohm = value.trim() ? { ohm: value } : {};
    const { data, error } = await editNetwork({
      network: this.text("network"),
      ref,
      action,
      ...ohm,
    });
    this.editTrouble = error ? (error.errors[0]?.message ?? error.detail) : "";
    if (data) this.type("network", data.network);
  }

  /** Find the value written ? in a network from one known figure. */
  async find(network: string, known: "total_ohm" | "supply_a" | "node", at: string, value: string) {
    const figure = known === "node" ? { node: { at, v: value } } : { [known]: value };
    const supply = known === "total_ohm" ? {} : { supply_v: this.text("supply_v") };
    const found = await this.#found.of(
      askUnknown({
        network,
        source_ohm: this.text("source_ohm"),
        low_v: this.text("low_v"),
        supply_v: 0,
        ...supply,
        ...figure,
      }),
    );
    if (!found) return;
    this.unknown = found.data ?? null;
    this.unknownTrouble = found.error ? (found.error.errors[0]?.message ?? found.error.detail) : "";
  }
}
