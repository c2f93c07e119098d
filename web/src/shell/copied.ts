/** What is copied out: as text, and as a table that a spreadsheet takes. */
import { own } from "../help/own.svelte";
import { inDialog, typing } from "../kit/keys";

/** A line of words, then rows of cells; the first row names the columns. */
export type Copied = { words: string[]; rows: string[][] };

/** Figures with the decimal sign that is asked for; what is no figure stays. */
export function signed(text: string): string {
  return own.comma ? text.replace(/(\d)\.(?=\d)/g, "$1,") : text;
}

const escaped = (text: string) =>
  text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");

function asText({ words, rows }: Copied): string {
  return [...words, ...rows.map((row) => row.join("\t"))].map(signed).join("\n");
}

function asTable({ words, rows }: Copied): string {
  const cells = (row: string[]) => row.map((c) => `<td>${escaped(signed(c))}</td>`).join("");
  const lines = [...words.map((w) => [w]), ...rows].map((row) => `<tr>${cells(row)}</tr>`);
  return `<table>${lines.join("")}</table>`;
}

/** The rows of a table on the page, as they are seen. */
export function rowsOf(table: HTMLTableElement): Copied {
  const said = (cell: HTMLElement) => cell.innerText.replace(/\s+/g, " ").trim();
  return { words: [], rows: [...table.rows].map((row) => [...row.cells].map(said)) };
}

/** Answer a copy where nothing is selected and nothing typed in; else the browser's own goes on. */
export function copyOut(event: ClipboardEvent, out: Copied | null): void {
  const selected = !(document.getSelection()?.isCollapsed ?? true);
  if (!out || typing(event) || selected || inDialog()) return;
  event.clipboardData?.setData("text/plain", asText(out));
  event.clipboardData?.setData("text/html", asTable(out));
  event.preventDefault();
}

/** Put it on the clipboard, from a button. */
export async function putOut(out: Copied): Promise<void> {
  const piece = (type: string, text: string) => ({ [type]: new Blob([text], { type }) });
  await navigator.clipboard.write([
    new ClipboardItem({
      ...piece("text/plain", asText(out)),
      ...piece("text/html", asTable(out)),
    }),
  ]);
}
