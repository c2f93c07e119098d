/** A sensor in one leg: the brief as typed, and what the server makes of it. */
import { askSensor, newDesign, type SensorSheetAnswer } from "$api";

import { Latest } from "../shell/latest";

const BRIEF_KEY = "lowfold-sensor";

function kept(): Record<string, string> {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(BRIEF_KEY) ?? "{}");
    return found && typeof found === "object" ? (found as Record<string, string>) : {};
  } catch {
    return {}; // what another program wrote there is no brief
  }
}

export class SensorState {
  readonly families: string[] = [];
  brief = $state<Record<string, string>>(kept());
  answer = $state.raw<SensorSheetAnswer | null>(null);
  understood = $state.raw<SensorSheetAnswer | null>(null);
  cursor = $state<string | null>(null);
  trouble = $state("");
  asking = $state(false);
  stale = $derived(this.answer !== null && this.answer !== this.understood);
  here = $derived(
    Math.max(
      this.understood?.choices.findIndex((c) => c.network === this.understood?.shown?.network) ?? 0,
      0,
    ),
  );
  #latest = new Latest();

  text(token: string): string {
    return this.brief[token] ?? this.answer?.tokens[token]?.text ?? "";
  }

  type(token: string, text: string): void {
    this.brief[token] = text;
    this.cursor = null;
    localStorage.setItem(BRIEF_KEY, JSON.stringify(this.brief));
    void this.ask();
  }

  async ask(): Promise<void> {
    const { brief, cursor } = this;
    this.asking = true;
    const found = await this.#latest.of(askSensor({ brief, cursor }));
    if (!found) return;
    this.asking = false;
    this.trouble = found.error ? found.error.detail : "";
    if (!found.data) return;
    this.answer = found.data;
    if (Object.values(found.data.tokens).every((token) => token.ok)) this.understood = found.data;
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

  /** Keep the choice as a network of its own; answers its id, or nothing where it failed. */
  async keep(): Promise<number | undefined> {
    const shown = this.understood?.shown;
    if (!shown) return;
    const { data, error } = await newDesign({
      name: `Sensor, ${this.text("aim")}`,
      kind: "network",
      brief: shown.as_network,
      prefer: "nearest",
      why: `${shown.words} The sensor: ${this.text("sensor")}. RS1 stands at its first point.`,
    });
    if (error) this.trouble = `Not kept: ${error.detail}.`;
    return data?.id;
  }
}
