/** One choice looked into: its pictures, what would make it pass, and long draws of samples. */
import {
  askOpened,
  drawMany,
  type AdviceAnswer,
  type BriefKind,
  type DrawnAnswer,
  type OpenedAnswer,
  type ScatterPicture,
} from "$api";

import { Advising } from "../shell/advising.svelte";
import { WatchedJob } from "../shell/job.svelte";
import { Latest } from "../shell/latest";
import { pressed } from "../kit/keys";

/** What is looked into: a sheet with a choice under the cursor, or a network of its own. */
export interface Subject {
  readonly kind: BriefKind | "network";
  readonly brief: Record<string, string>;
  /** The choice looked into, in the notation; empty for a network, which is its own. */
  readonly notation: string;
  /** What stands over the pictures. */
  readonly title: string;
  follow(changes: Record<string, string>, choice: string): Before;
  putBack(before: Before): void;
  ask(): Promise<void>;
}
export type Before = { brief: Record<string, string>; choice: string | null };

export const TABS = {
  spread: "Spread",
  load: "Load",
  power: "Power",
  faults: "Faults",
  advice: "What would pass",
} as const;
/** A key for each picture, where nothing is being typed. */
const PICTURES: Record<string, Tab> = {
  s: "spread",
  l: "load",
  p: "power",
  f: "faults",
  w: "advice",
};

/** The picture a key press asks for, if it does. */
export function tabOf(event: KeyboardEvent): Tab | undefined {
  return PICTURES[pressed(event, "open") ?? ""];
}

const MANY = 10_000_000;
export type Tab = keyof typeof TABS;
export type Distribution = "uniform" | "normal";

export class OpenedState {
  tab = $state<Tab>("spread");
  distribution = $state<Distribution>("uniform");
  answer = $state.raw<OpenedAnswer | null>(null);
  trouble = $state("");
  title = $state("");
  followed = $state.raw<{ way: AdviceAnswer; before: Before } | null>(null);
  readonly many = new WatchedJob();
  readonly advising = new Advising();

  /** The pictures of the long draw once it is done, else those of the first look. */
  scatters = $derived<ScatterPicture[]>(
    this.many.job?.state === "done"
      ? (this.many.job.result as DrawnAnswer).scatters
      : (this.answer?.scatters ?? []),
  );

  #subject: () => Subject;
  #pictures = new Latest();

  constructor(subject: () => Subject) {
    this.#subject = subject;
  }

  #asked() {
    const { kind, brief, notation } = this.#subject();
    return {
      kind,
      brief: $state.snapshot(brief),
      choice: notation,
      distribution: this.distribution,
    };
  }

  /** Look into the choice that is shown, from the tab that was asked for. */
  async look(tab: Tab): Promise<void> {
    this.tab = tab;
    this.followed = null;
    await this.#fill();
  }

  async #fill(): Promise<void> {
    this.title = this.#subject().title;
    this.answer = null;
    // Trying what would pass may take seconds; the pictures do not wait for it.
    await Promise.all([this.#picture(), this.advising.of(this.#asked())]);
  }

  async #picture(): Promise<void> {
    this.trouble = "";
    this.many.close();
    const found = await this.#pictures.of(askOpened(this.#asked()));
    if (!found) return;
    if (found.data) this.answer = found.data;
    else this.trouble = found.error.detail;
  }

  async spreadAs(distribution: Distribution): Promise<void> {
    this.distribution = distribution;
    await this.#picture();
  }

  drawMany(): Promise<void> {
    return this.many.follow(drawMany({ ...this.#asked(), samples: MANY }));
  }

  /** Do what advice says, and look into what came of it. */
  async follow(way: AdviceAnswer): Promise<void> {
    const before = this.#subject().follow(way.changes, way.choice);
    this.followed = { way, before };
    await this.#again();
  }

  async putBack(): Promise<void> {
    if (!this.followed) return;
    this.#subject().putBack(this.followed.before);
    this.followed = null;
    await this.#again();
  }

  async #again(): Promise<void> {
    await this.#subject().ask();
    await this.#fill();
  }

  close(): void {
    this.#pictures.drop();
    this.advising.drop();
    this.many.close();
  }
}
