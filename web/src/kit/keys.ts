/** Every shortcut of the page: its keys, and what it does in words. The help is made of this table. */
type Shortcut = {
  /** As `KeyboardEvent.key` has them. */
  keys: readonly string[];
  /** As the help writes them; nothing for what goes with another line of it. */
  shown?: string;
  words?: string;
  /** Held with it. */
  held?: "alt" | "command";
  /** Also while a figure or a text is being typed. */
  typing?: true;
};

const TABLE = {
  line: { keys: ["+"] },
  lineAnywhere: {
    keys: ["n", "N"],
    held: "alt",
    typing: true,
    shown: "+  Alt N",
    words: "a need in one line, from anywhere; Alt N also while typing",
  },
  next: { keys: ["Tab"], typing: true },
  figure: { keys: ["Tab"], shown: "Tab", words: "next figure of the need" },
  walk: {
    keys: ["ArrowUp", "ArrowDown"],
    typing: true,
    shown: "↑ ↓",
    words: "walk the choices, also while typing a figure",
  },
  pin: {
    keys: ["Enter"],
    shown: "Enter",
    words: "pin the choice under the cursor; from a figure, go to the choices",
  },
  asItWas: {
    keys: ["Escape"],
    shown: "Esc",
    words: "put a figure back as it was when entered",
  },
  aside: {
    keys: ["ArrowLeft", "ArrowRight"],
    shown: "→ ←",
    words: "fold and unfold a step; on a sheet the same ratio a decade up and down",
  },
  view: {
    keys: ["z", "Z", "0"],
    shown: "z  Z  0",
    words: "a drawing nearer, further off, all of it; Shift with an arrow moves it",
  },
  heights: { keys: ["h"], shown: "h", words: "a network's potentials as heights" },
  careful: { keys: ["c"], shown: "c", words: "on a sheet: the choice a careful designer takes" },
  hold: {
    keys: ["b"],
    shown: "b",
    words: "on a sheet: hold a choice, and set those under the cursor beside it",
  },
  open: {
    keys: ["s", "l", "p", "f", "w"],
    shown: "s l p f w",
    words: "open spread, load, power, faults, what would pass",
  },
  take: {
    keys: ["t"],
    typing: true,
    shown: "t",
    words: "at the bench: take the reading from the meter on the wire",
  },
  keep: { keys: ["Enter"], shown: "Enter", words: "at the bench: keep the reading and go on" },
  follow: {
    keys: ["f"],
    typing: true,
    shown: "f",
    words: "at the bench: put the leads where the next reading tells most",
  },
  suspects: {
    keys: ["PageUp", "PageDown"],
    typing: true,
    shown: "PgUp PgDn",
    words: "at the bench: walk what may be wrong",
  },
  write: { keys: ["n"], shown: "n  /", words: "in the record: write a line, find one" },
  find: { keys: ["/"] },
  place: {
    keys: ["0", "1", "2", "3"],
    held: "alt",
    typing: true,
    shown: "Alt 1 2 3",
    words: "of a design: its sheet, its bench, its record; Alt 0 the designs",
  },
  fold: {
    keys: ["4"],
    held: "alt",
    typing: true,
    shown: "Alt 4",
    words: "on a sheet: fold the choice step by step",
  },
  copy: {
    keys: ["c"],
    held: "command",
    shown: "Ctrl C",
    words: "nothing selected: the choice with its figures, as text and as a table",
  },
  record: { keys: ["r"], shown: "r", words: "the record beside the sheet or the bench" },
  reason: {
    keys: ["Enter"],
    held: "command",
    typing: true,
    shown: "Ctrl Enter",
    words: "in the reason: choice and reason into the record",
  },
  undo: {
    keys: ["z", "Z", "y", "Y"],
    held: "command",
    typing: true,
    shown: "Ctrl Z",
    words: "undo, deleting too; with Shift, do it again",
  },
  relation: {
    keys: ["s", "p", "n"],
    shown: "s p n",
    words: "in practice: series, parallel, neither; at a board: n names the fault",
  },
  jack: {
    keys: ["j"],
    shown: "j  [ ]",
    words: "at a practice board: the lead to the next jack, the range",
  },
  range: { keys: ["[", "]"] },
  help: { keys: ["?"], shown: "?", words: "this help" },
} as const satisfies Record<string, Shortcut>;

type Table = typeof TABLE;

/** Keys with what they do, as the help lists them. */
export const KEYS: [string, string][] = Object.values<Shortcut>(TABLE).flatMap(
  ({ shown, words }) => (shown && words ? [[shown, words]] : []),
);

/** Whether something is being typed where the key went. */
export const typing = (event: Event): boolean =>
  (event.target as Element | null)?.matches?.("input, textarea, select") === true;

/** Whether a dialog takes the keys. */
export const inDialog = (): boolean => document.querySelector("dialog[open]") !== null;

/** The key of the shortcut that was pressed, or nothing where it was not that one. */
export function pressed<K extends keyof Table>(
  event: KeyboardEvent,
  name: K,
): Table[K]["keys"][number] | undefined {
  const shortcut: Shortcut = TABLE[name];
  const command = event.ctrlKey || event.metaKey;
  if (command !== (shortcut.held === "command") || event.altKey !== (shortcut.held === "alt"))
    return undefined;
  if (!shortcut.typing && typing(event)) return undefined;
  return shortcut.keys.find((key) => key === event.key) as Table[K]["keys"][number] | undefined;
}

/** Back or on by a shortcut of two keys, or not at all. */
export function step(event: KeyboardEvent, name: "walk" | "aside" | "suspects"): -1 | 0 | 1 {
  const key = pressed(event, name);
  return key === undefined ? 0 : key === TABLE[name].keys[0] ? -1 : 1;
}
