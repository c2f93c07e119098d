/** The record of one design: its entries, its photographs, and what it has been. */
import {
  addEvidence,
  compareRevisions,
  getEvidence,
  getRecord,
  getRevisions,
  restoreRevision,
  type Compared,
  type Design,
  type EntryAsk,
  type Evidence,
  type Reading,
  type RevisionLine,
} from "$api";

import { isAway, outbox } from "../shell/outbox.svelte";
import type { Kind, Written } from "./kinds";

/** A line of the timeline: an entry, or a revision. */
export type Line = {
  key: string;
  at: string;
  kind: Kind;
  text: string;
  entry?: Reading;
  revision?: RevisionLine;
  /** Its number in the record, as paper and file have it. */
  number?: number;
};

export class RecordState {
  readonly id: number;
  design = $state.raw<Design>({} as Design);
  entries = $state.raw<Reading[] | null>(null);
  revisions = $state.raw<RevisionLine[]>([]);
  evidence = $state.raw<Evidence[]>([]);
  trouble = $state("");
  said = $state("");
  /** Photographs on their way. */
  sending = $state(0);
  kind = $state<Written>("note");
  draft = $state("");
  hidden = $state.raw<readonly Kind[]>([]);
  words = $state("");
  /** The entry that photographs are put to. */
  target = $state<number | null>(null);
  /** Revisions picked to be compared, at most two. */
  picked = $state.raw<readonly number[]>([]);
  compared = $state.raw<Compared | null>(null);

  lines = $derived.by<Line[]>(() => {
    const written = (this.entries ?? []).map((entry, k): Line => ({
      key: `e${entry.id}`,
      at: entry.at,
      kind: entry.kind,
      text: entry.text,
      entry,
      number: k + 1,
    }));
    const changes = this.revisions.map((revision): Line => ({
      key: `r${revision.revision}`,
      at: revision.at,
      kind: "revision",
      text: revision.words,
      revision,
    }));
    // What came at one time stands as it was written, the last one first
    const later = (a: Line, b: Line) => (b.number ?? 0) - (a.number ?? 0);
    return [...written, ...changes].sort((a, b) =>
      a.at === b.at ? later(a, b) : a.at < b.at ? 1 : -1,
    );
  });
  shown = $derived(
    this.lines.filter(
      (line) =>
        !this.hidden.includes(line.kind) &&
        this.words
          .toLowerCase()
          .split(/\s+/)
          .every((word) => `${line.text} ${line.kind}`.toLowerCase().includes(word)),
    ),
  );
  /** Entries that were taken back or corrected, by id, with the number of what did. */
  corrected = $derived<Record<number, number>>(
    Object.fromEntries(
      (this.entries ?? []).flatMap((e, k) => (e.corrects == null ? [] : [[e.corrects, k + 1]])),
    ),
  );
  numbers = $derived<Record<number, number>>(
    Object.fromEntries((this.entries ?? []).map((e, k) => [e.id, k + 1])),
  );

  constructor(design: Design) {
    this.id = design.id;
    this.design = design;
  }

  async open(): Promise<void> {
    const [entries, revisions, evidence] = await Promise.all([
      getRecord(this.id),
      getRevisions(this.id),
      getEvidence(this.id),
    ]);
    this.entries = entries.data ?? [];
    this.revisions = revisions.data ?? [];
    this.evidence = evidence.data ?? [];
    const failed = entries.error ?? revisions.error ?? evidence.error;
    this.trouble = failed ? `Not read: ${failed.detail}.` : "";
  }

  show(kind: Kind, on: boolean): void {
    this.hidden = on ? this.hidden.filter((k) => k !== kind) : [...this.hidden, kind];
  }

  /** Write an entry down; tells whether it is, or waits in this browser to be. */
  async #add(body: EntryAsk): Promise<boolean> {
    const added = (entry: Reading) => {
      this.entries = [...(this.entries ?? []), entry];
      this.trouble = "";
    };
    const { data, error } = await outbox.enter(this.id, body, added);
    if (data) added(data);
    if (!error) return true;
    const waits = isAway(error) && !outbox.forbidden;
    this.trouble = waits
      ? `“${body.text.slice(0, 60)}” is not written down yet: ${error.detail}. It is written down as soon as it can be.`
      : `Not written down: ${error.detail}. It stands here as typed.`;
    return waits;
  }

  /** Write the draft down as one line. */
  async write(): Promise<void> {
    const text = this.draft.trim();
    if (!text) return;
    const choice = this.kind === "decision" ? { choice: this.design.choice } : {};
    if (await this.#add({ kind: this.kind, text, ...choice })) this.draft = "";
  }

  /** Keep photographs, each with an entry; put to the entry that is picked, if one is. */
  async photograph(files: readonly File[]): Promise<void> {
    const of = this.target;
    for (const file of files) {
      this.sending++;
      const { data, error } = await addEvidence(this.id, file);
      this.sending--;
      if (error) {
        this.trouble = `“${file.name}” is not kept: ${error.detail}.`;
        continue;
      }
      this.evidence = [...this.evidence, data];
      const text = file.name.replace(/\.[a-z0-9]+$/i, "").slice(0, 200) || "photograph";
      const said = /^(image|photograph|img|dsc)[-_ 0-9]*$/i.test(text) ? "photograph" : text;
      const entry = { kind: "photo" as const, text: said, evidence: data.id };
      await this.#add(of === null ? entry : { ...entry, of });
    }
    this.target = null;
  }

  /** Pick a revision to be compared with another, or let it go. */
  async pick(revision: number): Promise<void> {
    this.picked = this.picked.includes(revision)
      ? this.picked.filter((r) => r !== revision)
      : [...this.picked.slice(-1), revision];
    this.compared = null;
    if (this.picked.length < 2) return;
    const [one = 0, other = 0] = [...this.picked].sort((a, b) => a - b);
    const { data, error } = await compareRevisions(this.id, one, other);
    this.trouble = error ? `Not compared: ${error.detail}.` : "";
    this.compared = data ?? null;
  }

  async restore(revision: number): Promise<void> {
    const { data, error } = await restoreRevision(this.id, revision);
    if (error) {
      this.trouble = `Not restored: ${error.detail}.`;
      return;
    }
    this.design = data;
    this.picked = [];
    this.compared = null;
    this.said = `Revision ${revision} is the newest again, as revision ${data.revision}.`;
    await this.open();
  }
}
