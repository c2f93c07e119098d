/** Meters as listed and edited: those that ship, the user's own, and those read over a wire. */
import {
  keepInstrument,
  keepMeter,
  listInstruments,
  listMeters,
  removeInstrument,
  removeMeter,
  takeMeters,
  type InstrumentAnswer,
  type MeterAnswer,
  type MeterWords,
  type Refusal,
} from "$api";

import { Latest } from "../shell/latest";
import { Taker, type How } from "./taker.svelte";

export type MeterDraft = MeterWords & { name: string };
const EMPTY: MeterDraft = {
  name: "",
  input: "10 MΩ",
  leads: "0.2 Ω",
  of_full: false,
  volts: "6 V ± (0.5 % + 2), resolution 1 mV",
  amps: "60 mA ± (1 % + 3), resolution 10 µA, burden 2 Ω, jack mA, fuse 630 mA",
  ohms: "6 kΩ ± (0.9 % + 3), resolution 1 Ω",
};

export class MetersState extends Taker {
  readonly ways = { add: "Take them over" };

  meters = $state.raw<MeterAnswer[] | null>(null);
  instruments = $state.raw<InstrumentAnswer[]>([]);
  trouble = $state("");
  /** The meter being changed, as typed; nothing where none is. */
  draft = $state<MeterDraft | null>(null);
  /** A meter of that name is there already. */
  changing = $state(false);
  wrong = $state<Record<string, string>>({});
  removed = $state.raw<MeterAnswer | null>(null);
  wire = $state({ resource: "", name: "", meter: "" });
  wireWrong = $state("");

  #latest = new Latest();

  protected hand(file: File, _how: How, onlyTry: boolean) {
    return takeMeters(file, onlyTry);
  }

  protected tell(lines: number, file: string): string {
    return `${lines} meters of ${file} are taken over.`;
  }

  async load(): Promise<void> {
    const found = await this.#latest.of(Promise.all([listMeters(), listInstruments()]));
    if (!found) return;
    const [meters, instruments] = found;
    const failed = meters.error ?? instruments.error;
    this.trouble = failed ? `The meters could not be read: ${failed.detail}.` : "";
    if (meters.data) this.meters = meters.data;
    if (instruments.data) this.instruments = instruments.data;
  }

  edit(meter: MeterAnswer | null): void {
    this.wrong = {};
    this.changing = meter !== null;
    this.draft = meter ? { ...meter.words, name: meter.name } : { ...EMPTY };
  }

  leave(): void {
    this.draft = null;
    this.wrong = {};
  }

  /** Keep the meter being typed; tells whether it was taken. */
  async keep(): Promise<boolean> {
    if (!this.draft) return false;
    const { name, ...words } = this.draft;
    if (!name.trim()) {
      this.wrong = { name: "a meter needs a name, for instance workshop, 4000 counts" };
      return false;
    }
    const { error } = await keepMeter(name.trim(), words);
    if (error) {
      this.wrong = told(error);
      return false;
    }
    // First the list: a line that is shown as it was is a line that can be taken out as it was
    await this.load();
    this.leave();
    return true;
  }

  /** Forget one of the user's own; one that ships under its name holds again. */
  async remove(meter: MeterAnswer): Promise<void> {
    const { error } = await removeMeter(meter.name);
    if (error && error.status !== 404) {
      this.trouble = `The meter was not taken out: ${error.detail}.`;
      return;
    }
    this.removed = meter;
    await this.load();
  }

  async putBack(): Promise<void> {
    if (!this.removed) return;
    const { error } = await keepMeter(this.removed.name, this.removed.words);
    if (error) {
      this.trouble = `It could not be put back: ${error.detail}.`;
      return;
    }
    this.removed = null;
    await this.load();
  }

  async connect(): Promise<void> {
    const { resource, name, meter } = this.wire;
    const usual = this.meters?.find((m) => m.name.startsWith("bench"))?.name ?? "bench";
    const { error } = await keepInstrument({ resource, name, meter: meter || usual });
    this.wireWrong = error ? (error.errors[0]?.message ?? error.detail) : "";
    if (error) return;
    this.wire = { resource: "", name: "", meter: "" };
    await this.load();
  }

  async disconnect(one: InstrumentAnswer): Promise<void> {
    const { error } = await removeInstrument(one.resource);
    if (error && error.status !== 404)
      this.trouble = `The meter was not taken off: ${error.detail}.`;
    await this.load();
  }
}

function told(error: Refusal): Record<string, string> {
  if (error.errors.length === 0) return { name: error.detail };
  return Object.fromEntries(error.errors.map((e) => [e.field, e.message]));
}
