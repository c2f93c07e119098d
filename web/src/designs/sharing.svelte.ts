/** Designs that should share values: the search as a job, and taking its choices over. */
import { changeDesign, getDesign, shareValues, type SharedAnswer } from "$api";

import { WatchedJob } from "../shell/job.svelte";

export class SharingState extends WatchedJob {
  taken = $state("");
  result = $derived<SharedAnswer | null>(
    this.job?.state === "done" ? (this.job.result as SharedAnswer) : null,
  );

  async start(ids: number[]): Promise<void> {
    this.taken = "";
    await this.follow(shareValues({ ids }));
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

  override close(): void {
    super.close();
    this.taken = "";
  }
}
