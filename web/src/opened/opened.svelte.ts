/** One choice looked into: its pictures, what would make it pass, and long draws of samples. */
import {
  askAdvice,
  askOpened,
  drawMany,
  type AdviceAnswer,
  type AdvisedAnswer,
  type DrawnAnswer,
  type OpenedAnswer,
  type ScatterPicture,
} from "$api";

import { WatchedJob } from "../shell/job.svelte";
import type { Before, SheetState } from "../sheet/sheet.svelte";

export const TABS = {
  spread: "Spread",
  load: "Load",
  power: "Power",
  faults: "Faults",
  advice: "What would pass",
} as const;
const MANY = 10_000_000;
export type Tab = keyof typeof TABS;
export type Distribution = "uniform" | "normal";

export class OpenedState {
  tab = $state<Tab>("spread");
  distribution = $state<Distribution>("uniform");
  answer = $state.raw<OpenedAnswer | null>(null);
  advised = $state.raw<AdvisedAnswer | null>(null);
  trouble = $state("");
  title = $state("");
  followed = $state.raw<{ way: AdviceAnswer; before: Before } | null>(null);
  readonly many = new WatchedJob();

  /** The pictures of the long draw once it is done, else those of the first look. */
  scatters = $derived<ScatterPicture[]>(
    this.many.job?.state === "done"
      ? (this.many.job.result as DrawnAnswer).scatters
      : (this.answer?.scatters ?? []),
  );

  #sheet: () => SheetState;
  #latest = 0;

  constructor(sheet: () => SheetState) {
    this.#sheet = sheet;
  }

  #asked() {
    const sheet = this.#sheet();
    return {
      kind: sheet.kind,
      brief: $state.snapshot(sheet.brief),
      choice: sheet.shown?.notation ?? "",
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
    const mine = ++this.#latest;
    const asked = this.#asked();
    this.title = asked.choice;
    this.answer = this.advised = null;
    this.trouble = "";
    this.many.close();
    const [{ data, error }, advised] = await Promise.all([askOpened(asked), askAdvice(asked)]);
    if (mine !== this.#latest) return;
    this.answer = data ?? null;
    this.advised = advised.data ?? null;
    this.trouble = error?.detail ?? advised.error?.detail ?? "";
  }

  async spreadAs(distribution: Distribution): Promise<void> {
    this.distribution = distribution;
    const mine = ++this.#latest;
    this.many.close();
    const { data, error } = await askOpened(this.#asked());
    if (mine !== this.#latest) return;
    if (data) this.answer = data;
    else this.trouble = error?.detail ?? "";
  }

  drawMany(): Promise<void> {
    return this.many.follow(drawMany({ ...this.#asked(), samples: MANY }));
  }

  /** Do what advice says, and look into what came of it. */
  async follow(way: AdviceAnswer): Promise<void> {
    const sheet = this.#sheet();
    const before = sheet.follow(way.changes, way.choice);
    this.followed = { way, before };
    await this.#again();
  }

  async putBack(): Promise<void> {
    if (!this.followed) return;
    this.#sheet().putBack(this.followed.before);
    this.followed = null;
    await this.#again();
  }

  async #again(): Promise<void> {
    await this.#sheet().ask();
    await this.#fill();
  }

  close(): void {
    this.#latest++;
    this.many.close();
  }
}
