/** Designs that should share values: the search as a job, and taking its choices over. */
import {
  cancelJob,
  changeDesign,
  getDesign,
  getJob,
  shareValues,
  type JobAnswer,
  type SharedAnswer,
} from "$api";

const LOOK_AGAIN_MS = 300;

export class SharingState {
  job = $state.raw<JobAnswer | null>(null);
  trouble = $state("");
  taken = $state("");
  result = $derived<SharedAnswer | null>(
    this.job?.state === "done" ? (this.job.result as SharedAnswer) : null,
  );

  async start(ids: number[]): Promise<void> {
    this.trouble = this.taken = "";
    const { data, error } = await shareValues({ ids });
    this.#see(data, error?.detail);
    while (this.job?.state === "running") {
      await new Promise((again) => setTimeout(again, LOOK_AGAIN_MS));
      if (this.job?.state !== "running") break;
      const next = await getJob(this.job.id);
      this.#see(next.data, next.error?.detail);
    }
  }

  #see(job: JobAnswer | undefined, detail: string | undefined): void {
    this.job = job ?? null;
    if (detail) this.trouble = detail;
    if (job?.state === "failed") this.trouble = job.words;
  }

  async cancel(): Promise<void> {
    if (!this.job) return;
    const { data, error } = await cancelJob(this.job.id);
    this.#see(data, error?.detail);
  }

  /** Pin the choices found; a design changed meanwhile is left as it is and named. */
  async take(): Promise<void> {
    const left: string[] = [];
    for (const choice of this.result?.choices ?? []) {
      const { data } = await getDesign(choice.id);
      const change = data && {
        name: data.name,
        kind: data.kind,
        brief: data.brief,
        prefer: data.prefer,
        why: data.why,
        choice: choice.notation,
        revision: choice.revision,
      };
      const kept = change && (await changeDesign(choice.id, change)).data;
      if (!kept) left.push(choice.name);
    }
    this.job = null;
    this.taken = left.length
      ? `Changed meanwhile and left as it was: ${left.join(", ")}.`
      : "The shared choices are pinned.";
  }

  close(): void {
    if (this.job?.state === "running") void this.cancel();
    this.job = null;
    this.trouble = this.taken = "";
  }
}
