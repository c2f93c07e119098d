/** What an entry of the record is: its shape, and what it is called. */
export const KINDS = {
  decision: { shape: "◆", word: "decision" },
  reading: { shape: "●", word: "reading" },
  finding: { shape: "▲", word: "finding" },
  note: { shape: "–", word: "note" },
  photo: { shape: "▣", word: "photograph" },
  correction: { shape: "↺", word: "correction" },
  revision: { shape: "│", word: "change" },
} as const;
export type Kind = keyof typeof KINDS;
export const WRITTEN = ["note", "decision", "finding"] as const;
export type Written = (typeof WRITTEN)[number];
