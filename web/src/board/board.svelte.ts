/** The needs of a whole board: written as lines, chosen and judged as a job, kept as designs. */
import { newDesign, startBoard, type BoardAnswer, type BoardRow } from "$api";

import { download } from "../shell/download";
import { WatchedJob } from "../shell/job.svelte";
import { counted } from "../shell/counted";

const TEXT_KEY = "lowfold-board";
/** How needs are written, to be taken where nothing is written yet: the buoy's own. */
export const EXAMPLE = `Battery sense: 14.4 V to 3 V within 4 % into 1 MΩ, at most 80 µA
Loop receiver: 250 Ω within 2 %
Regulator pair: 0.8 V reference to 3.3 V within 4 %
Level switch: 5 V to 3.2 V and 1.4 V within 5 %
Panel sense: 24 V to 2.2 V within 4 %, at most 200 µA`;

export class BoardState extends WatchedJob {
  text = $state(localStorage.getItem(TEXT_KEY) ?? "");
  /** The text that the result is of. */
  of = $state("");
  said = $state("");
  keeping = $state(false);
  result = $derived<BoardAnswer | null>(
    this.job?.state === "done" ? (this.job.result as BoardAnswer) : null,
  );
  stale = $derived(this.result !== null && this.of !== this.text);
  count = $derived(this.text.split("\n").filter((line) => line.trim()).length);

  type(text: string): void {
    this.text = text;
    localStorage.setItem(TEXT_KEY, text);
  }

  async choose(share: boolean): Promise<void> {
    this.said = "";
    this.of = this.text;
    await this.follow(startBoard({ text: this.text, share }));
  }

  async open(file: File): Promise<void> {
    this.type(await file.text());
    await this.choose(false);
  }

  /** Hand the lines with their choices out as a file. */
  save(): void {
    if (this.result) download(new Blob([this.result.csv], { type: "text/csv" }), "board.csv");
  }

  /** Make a design of each line that has a choice, the choice pinned. */
  async keep(rows: BoardRow[]): Promise<void> {
    this.keeping = true;
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
    this.keeping = false;
    this.said = failed.length
      ? `${counted(made, "design")} kept; not kept: ${failed.join(", ")}.`
      : `${counted(made, "design")} kept, ${made === 1 ? "its choice" : "their choices"} pinned.`;
  }
}
