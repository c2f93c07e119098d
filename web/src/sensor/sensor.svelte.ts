/** A sensor in one leg: the brief as typed, what the server makes of it, the resistor chosen. */
import { askSensor, type SensorSheetAnswer } from "$api";

import { KeptDesign, type Draft } from "../shell/kept.svelte";
import type { Kept } from "../shell/undoing";

export class SensorState extends KeptDesign {
  readonly kind = "sensor" as const;
  answer = $state.raw<SensorSheetAnswer | null>(null);
  understood = $state.raw<SensorSheetAnswer | null>(null);
  cursor = $state<string | null>(null);
  stale = $derived(this.answer !== null && this.answer !== this.understood);
  here = $derived(
    Math.max(
      this.understood?.choices.findIndex((c) => c.network === this.understood?.shown?.network) ?? 0,
      0,
    ),
  );

  constructor(design: Draft) {
    super(design);
    this.cursor = design.choice;
  }

  protected override standAs(kept: Kept): void {
    super.standAs(kept);
    this.cursor = kept.choice;
  }

  async work(signal: AbortSignal) {
    const { brief, cursor } = this;
    const { data, error } = await askSensor({ brief, cursor }, signal);
    if (data && !signal.aborted) {
      this.answer = data;
      if (Object.values(data.tokens).every((token) => token.ok)) this.understood = data;
    }
    return error ? { error } : {};
  }

  text(token: string): string {
    return this.brief[token] ?? this.answer?.tokens[token]?.text ?? "";
  }

  type(token: string, text: string): void {
    this.brief[token] = text;
    this.cursor = this.choice;
    this.changed();
  }

  walk(step: number): void {
    const choices = this.understood?.choices ?? [];
    const next = choices[Math.min(Math.max(this.here + step, 0), choices.length - 1)];
    if (next) this.stand(next.network);
  }

  stand(network: string): void {
    this.cursor = network;
    void this.ask();
  }

  /** Pin the resistor under the cursor, or let it go. */
  pin(): void {
    const shown = this.understood?.shown?.network;
    if (!shown || this.stale) return;
    this.choice = this.choice === shown ? null : shown;
    this.cursor = shown;
    this.changed();
  }
}
