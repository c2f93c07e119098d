/** How far a design is built: the readings that stand, and what a round makes of them. */
import { store, stored } from "../shell/storage";
import {
  askRound,
  getReadings,
  type Design,
  type Reading,
  type RoundAnswer,
  type RoundAsk,
  type StepAnswer,
} from "$api";

import { Latest } from "../shell/latest";

const METER_KEY = "lowfold-meter";
/** The meter of who has chosen none. */
export const USUAL = "handheld, 6000 counts";

export type Subject = {
  kind: Design["kind"];
  brief: Record<string, string>;
  choice: string | null;
};

/** A round asked for a subject, with the readings that stand. */
export function roundOf(subject: Subject, readings: readonly Reading[], more: object = {}) {
  const { kind, brief, choice } = subject;
  return {
    kind,
    brief,
    choice,
    as_built: true,
    further: [] as NonNullable<RoundAsk["further"]>,
    readings: readings.map((r) => ({
      ...(r.point as Pick<StepAnswer["point"], "kind">),
      text: r.text,
      board: r.board ?? null,
      meter: r.meter ?? null,
    })),
    ...more,
  };
}

/** How far a design is built: for its sheet. */
export class BuildState {
  round = $state.raw<RoundAnswer | null>(null);
  #readings: Reading[] | null = null;
  #latest = new Latest();
  id: number;

  constructor(id: number) {
    this.id = id;
  }

  /** Look at the readings again, for the design as it is now. */
  async look(subject: Subject): Promise<void> {
    this.#readings ??= (await getReadings(this.id)).data ?? null;
    if (!this.#readings?.length || (subject.kind !== "network" && !subject.choice)) {
      this.#latest.drop();
      this.round = null;
      return;
    }
    const { meter } = chosenLast();
    const found = await this.#latest.of(askRound(roundOf(subject, this.#readings, { meter })));
    if (found) this.round = found.data ?? null;
  }
}

/** What was chosen last: from the list of meters, and which meter that is. */
export function chosenLast(): { from: string; meter: string } {
  const [from = USUAL, meter = USUAL] = (stored(METER_KEY) ?? "").split("\n");
  return { from: from || USUAL, meter };
}

/** Keep what was chosen. */
export function choseMeter(from: string, meter: string): void {
  store(METER_KEY, `${from}\n${meter}`);
}
