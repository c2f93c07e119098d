import { expect, it } from "vitest";

import type { ChoiceRow } from "$api";
import { arranged } from "../src/sheet/ordering";

const row = (notation: string, more: Partial<ChoiceRow> = {}) =>
  ({
    notation,
    listed: true,
    pinned: false,
    marks: [{ error: 0 }],
    distinct: 2,
    stocked: 3,
    verdict: "pass",
    ...more,
  }) as ChoiceRow;
const names = (rows: ChoiceRow[]) => rows.map((r) => r.notation).join("");

const rows = [
  row("a", { listed: false, spread: 0.5 }),
  row("b", { spread: 0.3, stocked: 3, amps: 1 }),
  row("c", { spread: 0.1, stocked: 7, verdict: "fail", amps: null }),
  row("d", { spread: 0.2, stocked: 0, distinct: 1, amps: 2 }),
];

it("leaves what stands above the list where it is", () => {
  expect(names(arranged(rows, "preferred", "all"))).toBe("abcd");
  expect(names(arranged(rows, "spread", "all"))).toBe("acdb");
});

it("orders by what the server says of each", () => {
  expect(names(arranged(rows, "stocked", "all"))).toBe("adbc");
  expect(names(arranged(rows, "draws", "all"))).toBe("abdc");
});

it("shows what is asked for, and what is pinned", () => {
  expect(names(arranged(rows, "preferred", "passing"))).toBe("abd");
  expect(names(arranged(rows, "preferred", "equal"))).toBe("ad");
  const pinned = [...rows.slice(0, 2), row("c", { verdict: "fail", pinned: true })];
  expect(names(arranged(pinned, "preferred", "passing"))).toBe("abc");
});
