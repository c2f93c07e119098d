/** One design at the bench: what was read of it, where the leads are, and what comes next. */
import {
  addEvidence,
  askFaults,
  askRound,
  getReadings,
  getRecord,
  listInstruments,
  listMeters,
  newKey,
  readInstrument,
  type Design,
  type FaultTable,
  type HypothesisAnswer,
  type InstrumentAnswer,
  type MeterAnswer,
  type NewReadingAsk,
  type Reading,
  type RoundAnswer,
  type StepAnswer,
} from "$api";

import { Latest } from "../shell/latest";
import { outbox } from "../shell/outbox.svelte";
import { chosenLast, choseMeter, roundOf, USUAL, type Subject } from "./build.svelte";
import { namedReading, type NamedReading } from "./named";
import { Suspects } from "./suspects.svelte";
import { counted } from "../shell/counted";

/** In place of a meter's name: one that is read over a wire, by its resource name. */
const WIRED = "at ";
/** How often a point is asked for while other questions are. */
const TRIES = 5;
/** Bits below which a reading tells nothing more. */
const TOLD = 0.01;
/** In place of its number in the record: a reading that is not there yet. */
const UNKEPT = 0;
/** Keys pressed ahead that still count. */
const MOST_AHEAD = 2;

const draftOf = (key: string, draft: string): string => `${key}\n${draft}`;

export class BenchState {
  readonly id: number;
  readonly subject: Subject;
  round = $state.raw<RoundAnswer | null>(null);
  trouble = $state("");
  /** Which reading could not be kept, and why. */
  lost = $state("");
  /** Why nothing can be built yet. */
  unbuilt = $state("");
  meters = $state.raw<MeterAnswer[]>([]);
  instruments = $state.raw<InstrumentAnswer[]>([]);
  /** A meter's name, or where it is on a wire. */
  chosen = $state("");
  asBuilt = $state(true);
  /** Key of the point under the cursor. */
  at = $state("");
  draft = $state("");
  /** The draft differs from what is kept of the point. */
  typed = $state(false);
  taking = $state(false);
  /** The rest of a round that stopped is opened on purpose. */
  opened = $state(false);
  readonly suspects = new Suspects();
  faults = $state.raw<FaultTable | null>(null);
  /** Which row of the fault table is looked at: what if the board were so. */
  supposed = $state<number | null>(null);
  /** What it would read then, by junction. */
  foreseen = $derived.by<Record<string, string>>(() => {
    const row = this.supposed === null ? undefined : this.faults?.rows[this.supposed];
    const names = this.faults?.junctions ?? [];
    return row ? Object.fromEntries(names.map((name, k) => [name, row.reads[k] ?? ""])) : {};
  });
  /** How many photographs each reading has, by its number in the record. */
  photographs = $state.raw<Record<number, number>>({});
  sending = $state(0);
  /** What was found and mended, in words. */
  mended = $state("");
  #readings = $state.raw<Reading[]>([]);
  #further = $state.raw<Record<string, unknown>[]>([]);
  #latest = new Latest();
  #closed = false;
  /** Settles once the reading that was kept last is in the record. */
  #recording: Promise<void> = Promise.resolve();
  /** Readings asked for that are not taken yet. */
  #more = 0;
  /** The draft that the round as it stands counts with. */
  #judged = "";
  /** How often the leads were put somewhere, or something was typed. */
  #gone = 0;

  steps = $derived<StepAnswer[]>(this.round?.steps ?? []);
  place = $derived(
    Math.max(
      0,
      this.steps.findIndex((step) => step.key === this.at),
    ),
  );
  step = $derived<StepAnswer | null>(this.steps[this.place] ?? null);
  wire = $derived(this.chosen.startsWith(WIRED) ? this.chosen.slice(WIRED.length) : "");
  instrument = $derived(this.instruments.find((one) => one.resource === this.wire) ?? null);
  meter = $derived(this.instrument?.meter ?? (this.wire ? USUAL : this.chosen));
  /** Steps that are shown: up to the one that stopped the round, and those taken on purpose. */
  shown = $derived(
    this.round?.stopped == null || this.opened
      ? this.steps
      : this.steps.filter(
          (step, i) => i <= (this.round?.stopped ?? 0) || step.key === this.at || step.reading,
        ),
  );
  /** Something is not as expected, so that a fault is looked for. */
  amiss = $derived(this.steps.some((step) => step.told === "off" || step.told === "far out"));
  folded = $derived(this.steps.length - this.shown.length);

  constructor(design: Design) {
    this.id = design.id;
    const brief = Object.fromEntries(
      Object.entries(design.brief).map(([token, value]) => [token, String(value)]),
    );
    this.subject = { kind: design.kind, brief, choice: design.choice };
    this.chosen = chosenLast().from;
  }

  async open(): Promise<void> {
    const [meters, instruments, readings] = await Promise.all([
      listMeters(),
      listInstruments(),
      getReadings(this.id),
    ]);
    this.meters = meters.data ?? [];
    this.instruments = instruments.data ?? [];
    this.#readings = readings.data ?? [];
    const there = this.instrument ?? this.meters.find((m) => m.name === this.chosen);
    if (!there) this.choose(USUAL);
    const failed = meters.error ?? instruments.error ?? readings.error;
    await this.ask();
    if (failed) this.trouble = `Not read: ${failed.detail}.`;
    void this.#countPhotographs();
    const first = this.round?.stopped ?? this.round?.following ?? 0;
    this.stand(this.steps[first]?.key ?? "");
  }

  close(): void {
    this.#closed = true;
    this.#latest.drop();
  }

  /** Take a meter's name, or `at` and where one is on a wire. */
  choose(value: string): void {
    this.chosen = value;
    choseMeter(value, this.meter);
    void this.ask();
  }

  takeAsBuilt(on: boolean): void {
    this.asBuilt = on;
    void this.ask();
  }

  /** Ask what follows from what was read, and from what is being typed. */
  async ask(): Promise<void> {
    const here = this.at;
    const asked = this.typed ? draftOf(here, this.draft) : "";
    const readings = this.typed
      ? [...this.#readings.filter((r) => this.#key(r) !== here), ...this.#drafted()]
      : this.#readings;
    const more = { meter: this.meter, as_built: this.asBuilt, further: this.#further };
    const body = roundOf(this.subject, readings, more);
    const found = await this.#latest.of(askRound(body));
    if (!found || this.#closed) return;
    const { data, error } = found;
    if (data) {
      this.round = data;
      this.#judged = asked;
      this.trouble = this.unbuilt = "";
      if (!this.typed) void this.#suspect();
    } else if (error.errors[0]?.field === "choice" || error.errors[0]?.field === "brief") {
      this.unbuilt = error.detail;
    } else this.trouble = `Not worked out: ${error.detail}.`;
  }

  /** Ask what may be wrong, where something is. */
  async #suspect(): Promise<void> {
    if (!this.amiss) {
      this.suspects.clear();
      return;
    }
    const key = (reading: Reading) => this.#key(reading);
    const trouble = await this.suspects.weigh(this.subject, this.#readings, this.meter, key);
    if (trouble && !this.#closed) this.trouble = trouble;
  }

  /** Weigh the hypotheses again: how often they are met was changed. */
  weighAgain(): void {
    void this.#suspect();
  }

  lookForTwo(on: boolean): void {
    this.suspects.two = on;
    void this.#suspect();
  }

  /** The board is powered and the leads are on it: what needs no power-off is next. */
  live = $derived(this.step !== null && this.step.asked.kind !== "resistance");
  /** Points that tell something more, best first. */
  telling = $derived((this.suspects.diagnosis?.next ?? []).filter((one) => one.gain_bits >= TOLD));
  /** What to measure next: with the power on the best that leaves it on, where there is one. */
  advised = $derived(
    (this.live ? this.telling.find((one) => one.kind === "voltage") : undefined) ??
      this.telling[0] ??
      null,
  );
  /** What would tell more, and asks for the power off or a wire opened: offered, never gone to. */
  offered = $derived(this.telling[0] === this.advised ? null : (this.telling[0] ?? null));

  /** Put the leads where the next reading tells most, or where another one that is told of would. */
  async follow(next = this.advised): Promise<void> {
    if (next) await this.#goTo(pointOf(next));
  }

  /** Put the leads on any point of the board, which the round may not have by itself. */
  async #goTo(wanted: Record<string, unknown>): Promise<boolean> {
    const asked = this.#atEnds(wanted);
    const there = () => this.steps.find((one) => same(one.asked, asked));
    if (!there()) this.#further = [...this.#further, asked];
    // Another question asked meanwhile takes this one's place: then it is asked again
    for (let tries = 0; tries < TRIES && !there(); tries++) await this.ask();
    const step = there();
    if (step) this.stand(step.key);
    return step !== undefined;
  }

  /** A voltage across a part by the junctions at its ends, as the round has its points. */
  #atEnds(point: Record<string, unknown>): Record<string, unknown> {
    const lifted = this.steps.find((one) => one.asked.part != null && one.ref === point.across);
    const [at, against] = lifted?.leads ?? [];
    return at !== undefined && against !== undefined ? { kind: "voltage", at, against } : point;
  }

  /** A draft that says itself where it was read. */
  #named(): NamedReading | null {
    const { round } = this;
    if (!round) return null;
    const parts = round.parts.map((part) => part.ref);
    const zero = round.low ? "0 V" : "0";
    return namedReading(this.draft, Object.keys(round.places), parts, zero);
  }

  /** Write down what was found, and have everything that it may have changed read again. */
  async mend(found: HypothesisAnswer): Promise<void> {
    const name = found.name.split(":")[0] ?? found.name;
    const finding = {
      kind: "finding" as const,
      text: `${name}: found and mended.`,
    };
    const { error } = await outbox.enter(this.id, finding);
    if (error) {
      this.lost = `What was found is not written down: ${error.detail}.`;
      return;
    }
    const again = this.#readings.filter((r) => {
      const point = r.point as { kind: string; part?: string };
      return r.board === this.round?.board && (!point.part || found.refs.includes(point.part));
    });
    for (const old of again) await this.#takeBack(old);
    this.#readings = this.#readings.filter((r) => !again.includes(r));
    this.mended = `${name}: mended. ${counted(again.length, "reading")} to be taken again.`;
    this.opened = this.suspects.two = false;
    this.#further = [];
    await this.ask();
    const following = this.round?.following;
    if (following != null) this.stand(this.steps[following]?.key ?? "");
  }

  async #countPhotographs(): Promise<void> {
    const { data } = await getRecord(this.id);
    const counts: Record<number, number> = {};
    for (const { kind, of } of data ?? [])
      if (kind === "photo" && of != null) counts[of] = (counts[of] ?? 0) + 1;
    this.photographs = counts;
  }

  /** How many photographs a point's reading has. */
  photographsAt(key: string): number {
    return this.photographs[this.#keptAt(key)?.id ?? UNKEPT] ?? 0;
  }

  /** Keep photographs of a point, put to its reading where there is one. */
  async photograph(files: readonly File[], key = this.at): Promise<void> {
    await this.#recording; // a reading that is just being kept gets its number first
    const step = this.steps.find((one) => one.key === key);
    const reading = this.#keptAt(key);
    for (const file of files) {
      this.sending++;
      const { data, error } = await addEvidence(this.id, file);
      this.sending--;
      if (error) {
        this.lost = `“${file.name}” is not kept: ${error.detail}.`;
        continue;
      }
      const said = step ? `photograph at ${step.point.words}` : "photograph";
      const entry = { kind: "photo" as const, text: said, evidence: data.id };
      const at = step ? { point: step.asked as { kind: "voltage" } } : {};
      const of = reading && reading.id !== UNKEPT ? { of: reading.id } : {};
      const kept = await outbox.enter(this.id, { ...entry, ...at, ...of });
      this.lost = kept.error ? `The photograph is not in the record: ${kept.error.detail}.` : "";
    }
    await this.#countPhotographs();
  }

  /** Bring what the meter would read with each likely fault, for paper. */
  async tabulate(): Promise<void> {
    const { data } = await askFaults(roundOf(this.subject, [], { meter: this.meter }));
    if (data) this.faults = data;
  }

  /** What was read at a junction against 0, or of the supply's current where it is none. */
  readAt(junction: string): string {
    const zero = this.round?.low ? "0 V" : "0";
    const asked = junction
      ? { kind: "voltage", at: junction, against: zero }
      : { kind: "current", through: "supply" };
    const reading = this.steps.find((step) => same(step.asked, asked))?.reading;
    return reading && !reading.wrong ? reading.shown : "—";
  }

  #key(reading: Reading): string {
    return this.steps.find((step) => same(step.asked, reading.point ?? {}))?.key ?? "";
  }

  /** What is being typed, as a reading that is not kept yet. */
  #drafted(): Reading[] {
    if (!this.draft.trim() || !this.step) return [];
    const named = this.#named();
    const mine = this.#unkept(this.step, named?.text ?? this.draft);
    return [named ? { ...mine, point: this.#atEnds(named.point) } : mine];
  }

  #unkept(step: StepAnswer, text: string): Reading {
    const nothing = { value: null, unit: null, meter: null, lowest: null, highest: null };
    const rest = { verdict: null, corrects: null, overload: false, at: "", id: UNKEPT };
    const board = this.round?.board ?? null;
    return { ...nothing, ...rest, shown: "", board, kind: "reading", text, point: step.asked };
  }

  /** Put the leads on a point; what was being typed elsewhere is kept as it is. */
  stand(key: string): void {
    this.#gone++;
    if (key === this.at) return;
    if (this.typed) void this.keep(false);
    this.at = key;
    this.draft = this.step?.reading?.text ?? "";
    this.typed = false;
  }

  walk(by: number): void {
    const next = Math.min(Math.max(this.place + by, 0), this.shown.length - 1);
    const step = this.shown[next];
    if (step) this.stand(step.key);
  }

  type(text: string): void {
    this.#gone++;
    this.draft = text;
    this.typed = text !== (this.#kept()?.text ?? "");
    void this.ask();
  }

  /** Put the draft back as what is kept. */
  undo(): void {
    this.draft = this.#kept()?.text ?? "";
    this.typed = false;
    void this.ask();
  }

  #kept(): Reading | undefined {
    return this.#keptAt(this.at);
  }

  #keptAt(key: string): Reading | undefined {
    return this.#readings.findLast((r) => r.board === this.round?.board && this.#key(r) === key);
  }

  /** Keep what is typed in the record, understood or not, and go on to the next point. */
  async keep(onward = true): Promise<void> {
    const named = this.typed ? this.#named() : null;
    if (named) {
      const text = this.draft;
      this.typed = false; // nothing was read where the leads were
      if (!(await this.#goTo(named.point))) {
        this.draft = text;
        this.typed = true;
        this.trouble ||= "Not kept yet: the point was not found. It stands here as typed.";
        return;
      }
      this.draft = named.text;
      this.typed = true;
    }
    const { step, round, draft } = this;
    if (!step || !round) return;
    if (this.typed) {
      this.typed = false;
      this.#recording = this.#record(step, round, draft.trim());
      const known = this.#judged === draftOf(step.key, draft);
      const gone = this.#gone;
      // What follows is known while it is typed: nobody waits for the record to type on
      if (onward && known) this.#onward();
      await this.#recording;
      await this.ask();
      // Who put the leads elsewhere meanwhile, or types already, is left there
      if (known || gone !== this.#gone) return;
    }
    if (onward) this.#onward();
  }

  #onward(): void {
    if (!this.round) return;
    const { following, stopped } = this.round;
    // Where a fault is looked for, the advice says what comes next
    if (stopped !== null && !this.opened) return;
    if (this.step?.told && following !== null) this.stand(this.steps[following]?.key ?? "");
  }

  /** Of readings that are not kept yet: by which key they are sent. */
  #keys = new WeakMap<Reading, string>();

  /** Put a reading, or none any more, in place of what was read at a point. */
  async #record(step: StepAnswer, round: RoundAnswer, text: string): Promise<void> {
    const old = this.#keptAt(step.key);
    const rest = this.#readings.filter((r) => r !== old);
    if (old) outbox.drop(this.#keys.get(old) ?? ""); // one that waits is not sent after this one
    if (!text) {
      this.#readings = rest;
      if (old && old.id !== UNKEPT) await this.#takeBack(old);
      return;
    }
    const mine = this.#unkept(step, text);
    this.#readings = [...rest, mine];
    const point = step.asked as { kind: "voltage" };
    const body: NewReadingAsk = { point, text, meter: round.meter, board: round.board };
    const kept = (data: Reading) => {
      this.#readings = this.#readings.map((r) => (r === mine ? data : r));
      if (this.unkept === 0) this.lost = "";
    };
    const key = newKey();
    this.#keys.set(mine, key);
    const { data, error } = await outbox.read(this.id, body, kept, key);
    if (data) kept(data);
    this.lost = error
      ? `“${text}” at ${step.point.words} is not kept: ${error.detail}. It stands here as typed.`
      : "";
  }

  async #takeBack(old: Reading): Promise<void> {
    const body = { kind: "correction" as const, text: "taken back", corrects: old.id };
    const { error } = await outbox.enter(this.id, body);
    if (error) this.#readings = [...this.#readings, old];
    this.lost = error ? `The reading is not taken back: ${error.detail}.` : "";
  }

  /** Readings that could not be kept. */
  unkept = $derived(this.#readings.filter((r) => r.id === UNKEPT).length);

  /** Try once more to keep what could not be kept: it waits in this browser meanwhile. */
  async keepAgain(): Promise<void> {
    await outbox.deliver();
    await this.ask();
  }

  /** Take the reading from the meter on the wire; asked for meanwhile, the next one follows. */
  async take(): Promise<void> {
    if (!this.wire) return;
    this.#more++;
    if (this.taking) return;
    this.taking = true;
    while (this.#more > 0 && !this.#closed) {
      this.#more = Math.min(this.#more, MOST_AHEAD) - 1;
      if (!(await this.#takeOne())) this.#more = 0;
    }
    this.taking = false;
  }

  /** Tells whether a reading was taken, so that one may go on. */
  async #takeOne(): Promise<boolean> {
    const step = this.step;
    if (!step) return false;
    const { data, error } = await readInstrument({
      ...(step.asked as { kind: "voltage" }),
      resource: this.wire,
    });
    if (this.#closed || this.step?.key !== step.key) return false;
    if (error) {
      this.trouble = `No reading: ${error.detail}.`;
      return false;
    }
    this.draft = data.text;
    this.typed = data.text !== (this.#kept()?.text ?? "");
    await this.ask();
    await this.keep();
    return this.step?.key !== step.key;
  }

  /** The point that belongs to something clicked in the drawing. */
  point(what: { node?: string; ref?: string; supply?: boolean }): void {
    const part = what.ref !== undefined && this.round?.parts.some((p) => p.ref === what.ref);
    // With the power on, a click on a part puts the leads across it; it is lifted with the power off
    if (part && this.live) {
      void this.#goTo({ kind: "voltage", across: what.ref });
      return;
    }
    const found = this.steps.find((step) =>
      what.supply
        ? step.asked.through === "supply"
        : what.ref
          ? step.ref === what.ref
          : step.asked.kind === "voltage" && step.asked.at === what.node,
    );
    if (found && this.shown.includes(found)) this.stand(found.key);
  }
}

/** The point that an answer is about, as a request has it. */
function pointOf(one: object): Record<string, unknown> {
  const names = ["kind", "at", "against", "across", "through", "part"];
  return Object.fromEntries(Object.entries(one).filter(([k, v]) => names.includes(k) && v != null));
}

/** Whether two points are one. */
function same(one: Record<string, unknown>, other: Record<string, unknown>): boolean {
  const names = ["kind", "at", "against", "across", "through", "part"];
  return names.every((name) => (one[name] ?? null) === (other[name] ?? null));
}
