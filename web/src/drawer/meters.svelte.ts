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
  type Outcome,
} from "$api";

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

type Listed = { meters: MeterAnswer[]; instruments: InstrumentAnswer[] };

export class MetersState extends Taker<Listed, MeterAnswer> {
  readonly ways = { add: "Take them over" };
  protected readonly words = { whole: "meters", one: "meter" };

  /** The meter being changed, as typed; nothing where none is. */
  draft = $state<MeterDraft | null>(null);
  /** A meter of that name is there already. */
  changing = $state(false);
  wire = $state({ resource: "", name: "", meter: "" });
  wireWrong = $state("");

  protected hand(file: File, _how: How, onlyTry: boolean) {
    return takeMeters(file, onlyTry);
  }

  protected tell(lines: number, file: string): string {
    return `${lines} meters of ${file} are taken over.`;
  }

  protected async read(): Promise<Outcome<Listed>> {
    const [meters, instruments] = await Promise.all([listMeters(), listInstruments()]);
    if (meters.error) return meters;
    if (instruments.error) return instruments;
    return { data: { meters: meters.data, instruments: instruments.data } };
  }
  /** Of the user's own; one that ships under its name holds again. */
  protected forget = (meter: MeterAnswer) => removeMeter(meter.name);
  protected restore = (meter: MeterAnswer) => keepMeter(meter.name, meter.words);

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
    return this.settle(keepMeter(name.trim(), words), "name");
  }

  async connect(): Promise<void> {
    const { resource, name, meter } = this.wire;
    const usual = this.found?.meters.find((m) => m.name.startsWith("bench"))?.name ?? "bench";
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
