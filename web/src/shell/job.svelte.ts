/** Long work on the server: started, watched until it ends, cancelled. */
import { cancelJob, getJob, type JobAnswer, type Outcome } from "$api";

const LOOK_AGAIN_MS = 300;

export class WatchedJob {
  job = $state.raw<JobAnswer | null>(null);
  trouble = $state("");
  running = $derived(this.job?.state === "running");

  async follow(started: Promise<Outcome<JobAnswer>>): Promise<void> {
    this.trouble = "";
    this.#see(await started);
    while (this.job?.state === "running") {
      await new Promise((again) => setTimeout(again, LOOK_AGAIN_MS));
      if (this.job?.state !== "running") break;
      this.#see(await getJob(this.job.id));
    }
  }

  #see({ data, error }: Outcome<JobAnswer>): void {
    this.job = data ?? null;
    if (error) this.trouble = error.detail;
    if (data?.state === "failed") this.trouble = data.words;
  }

  async cancel(): Promise<void> {
    if (this.job) this.#see(await cancelJob(this.job.id));
  }

  close(): void {
    if (this.running) void this.cancel();
    this.job = null;
    this.trouble = "";
  }
}
