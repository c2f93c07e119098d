/** What would make a choice pass, worked out beside the page: at once, or as a job it watches. */
import { askAdvice, type AdvisedAnswer, type JobAnswer } from "$api";

import { WatchedJob } from "./job.svelte";

type Ask = Parameters<typeof askAdvice>[0];

export class Advising {
  answer = $state.raw<AdvisedAnswer | null>(null);
  /** Why there is no answer, in words. */
  trouble = $state("");
  readonly work = new WatchedJob();
  #asking = new AbortController();

  /** Look for what would pass; what was looked for before is dropped. */
  async of(ask: Ask): Promise<void> {
    this.drop();
    const mine = (this.#asking = new AbortController());
    try {
      const { data, error } = await askAdvice(ask, mine.signal);
      if (mine.signal.aborted) return;
      if (error) this.trouble = error.detail;
      else if ("state" in data) await this.#watch(data, mine.signal);
      else this.answer = data;
    } catch (thrown) {
      if (!mine.signal.aborted) throw thrown;
    }
  }

  async #watch(job: JobAnswer, signal: AbortSignal): Promise<void> {
    await this.work.follow(Promise.resolve({ data: job }));
    if (signal.aborted) return;
    if (this.work.job?.state === "done") this.answer = this.work.job.result as AdvisedAnswer;
    else this.trouble = this.work.trouble || "Stopped before it was worked out.";
  }

  /** Want no answer any more. */
  drop(): void {
    this.#asking.abort();
    this.work.close();
    this.answer = null;
    this.trouble = "";
  }
}
