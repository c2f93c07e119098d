/** The needs of a whole board: written as lines, chosen and judged as a job, kept as designs. */
import { newDesign, startBoard, type BoardAnswer, type BoardRow } from "$api";

import { download } from "../shell/download";
import { WatchedJob } from "../shell/job.svelte";
import { KeptDesign } from "../shell/kept.svelte";
import { counted } from "../shell/counted";

/** How needs are written, to be taken where nothing is written yet: the buoy's own. */
export const EXAMPLE = `Battery sense: 14.4 V to 3 V within 4 % into 1 MΩ, at most 80 µA
Loop receiver: 250 Ω within 2 %
Regulator pair: 0.8 V reference to 3.3 V within 4 %
Level switch: 5 V to 3.2 V and 1.4 V within 5 %
Panel sense: 24 V to 2.2 V within 4 %, at most 200 µA`;

export class BoardState extends KeptDesign {
  readonly kind = "board" as const;
  readonly choosing = new WatchedJob();
  text = $derived(this.brief.needs ?? "");
  /** The text that the result is of. */
  of = $state("");
  said = $state("");
  making = $state(false);
  result = $derived<BoardAnswer | null>(
    this.choosing.job?.state === "done" ? (this.choosing.job.result as BoardAnswer) : null,
  );
  stale = $derived(this.result !== null && this.of !== this.text);
  count = $derived(this.text.split("\n").filter((line) => line.trim()).length);

  /** Nothing is asked while it is typed: all of it is chosen at once, as a job. */
  work() {
    return Promise.resolve({});
  }

  type(text: string): void {
    this.brief.needs = text;
    this.changed();
  }

  async choose(share: boolean): Promise<void> {
    this.said = "";
    this.of = this.text;
    await this.choosing.follow(startBoard({ text: this.text, share }));
  }

  async takeIn(file: File): Promise<void> {
    this.type(await file.text());
    await this.choose(false);
  }

  /** Hand the lines with their choices out as a file. */
  save(): void {
    if (this.result) download(new Blob([this.result.csv], { type: "text/csv" }), "board.csv");
  }

  /** Make a design of each line that has a choice, the choice pinned. */
  async makeDesigns(rows: BoardRow[]): Promise<void> {
    this.making = true;
    const failed: string[] = [];
    let made = 0;
    for (const row of rows) {
      if (!row.kind || !row.choice) continue;
      const { data } = await newDesign({
        name: (row.name || row.text).slice(0, 60),
        kind: row.kind,
        brief: row.tokens,
        prefer: "nearest",
        choice: row.choice,
        why: `Of a board, as written: ${row.text}`,
      });
      if (data) made += 1;
      else failed.push(row.name || row.text);
    }
    this.making = false;
    this.said = failed.length
      ? `${counted(made, "design")} kept; not kept: ${failed.join(", ")}.`
      : `${counted(made, "design")} kept, ${made === 1 ? "its choice" : "their choices"} pinned.`;
  }
}
