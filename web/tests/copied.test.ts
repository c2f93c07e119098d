/** What is copied out: text, a table, and the decimal sign that is asked for. */
import { beforeEach, describe, expect, it, vi } from "vitest";

import { own } from "../src/help/own.svelte";
import { copyOut, signed, type Copied } from "../src/shell/copied";

const CHOICE: Copied = {
  words: ["Battery sense <spare>"],
  rows: [
    ["part", "R"],
    ["R1", "4.7 kΩ"],
  ],
};

/** The page as far as a copy looks at it. */
const page = { collapsed: true, dialog: null as object | null };
const body = { matches: () => false };
const input = { matches: (selector: string) => selector.includes("input") };

function copied(out: Copied | null, at: object = body): Record<string, string> | null {
  const data: Record<string, string> = {};
  let taken = false;
  const event = {
    target: at,
    clipboardData: { setData: (kind: string, text: string) => (data[kind] = text) },
    preventDefault: () => (taken = true),
  };
  copyOut(event as unknown as ClipboardEvent, out);
  return taken ? data : null;
}

vi.stubGlobal("document", {
  getSelection: () => ({ isCollapsed: page.collapsed }),
  querySelector: () => page.dialog,
});

beforeEach(() => {
  page.collapsed = true;
  page.dialog = null;
  own.comma = false;
});

describe("a copy where nothing is selected", () => {
  it("is lines of text, cells parted as a spreadsheet takes them", () => {
    expect(copied(CHOICE)?.["text/plain"]).toBe("Battery sense <spare>\npart\tR\nR1\t4.7 kΩ");
  });

  it("is a table too, in which no name is markup", () => {
    const table = copied(CHOICE)?.["text/html"] ?? "";
    expect(table).toContain("<td>Battery sense &lt;spare&gt;</td>");
    expect(table.match(/<tr>/g)).toHaveLength(3);
  });

  it("has the decimal sign that is asked for, in figures alone", () => {
    own.comma = true;
    expect(copied(CHOICE)?.["text/plain"]).toContain("4,7 kΩ");
    expect(signed("v. 2, 1.5 mA · 0.25 %")).toBe("v. 2, 1,5 mA · 0,25 %");
  });

  it("leaves the browser's own copy alone while one types, has selected, or looks at a dialog", () => {
    expect(copied(CHOICE, input)).toBeNull();
    page.collapsed = false;
    expect(copied(CHOICE)).toBeNull();
    page.collapsed = true;
    page.dialog = {};
    expect(copied(CHOICE)).toBeNull();
  });

  it("is the browser's own where there is nothing to copy", () => {
    expect(copied(null)).toBeNull();
  });
});

describe("one's own ways", () => {
  it("begin a need with what its kind has a word for", () => {
    own.type("rating", "0805");
    own.type("supply_tolerance", "2 %");
    expect(own.begins(["rating", "tolerance"])).toEqual({ rating: "0805" });
    own.type("rating", "  ");
    expect(own.begins(["rating", "supply_tolerance"])).toEqual({ supply_tolerance: "2 %" });
    own.type("supply_tolerance", "");
  });

  it("outlast the page", () => {
    const kept = vi.spyOn(localStorage, "setItem");
    own.type("values", "E96");
    expect(kept.mock.lastCall?.[1]).toContain("E96");
    own.type("values", "");
    expect(kept.mock.lastCall?.[1]).not.toContain("E96");
  });
});
