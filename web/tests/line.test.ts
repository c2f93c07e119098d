import { describe, expect, it } from "vitest";

import type { NeedAnswer } from "$api";
import { piecesOf } from "../src/line/need.svelte";

const read = (understood: [number, number, string][], unread: [number, number][]): NeedAnswer => ({
  kind: "divider",
  name: "",
  tokens: {},
  understood: understood.map(([from, to, token]) => ({ from, to, token })),
  unread: unread.map(([from, to]) => ({ from, to, text: "", message: "why", instead: [] })),
  next: [],
  readings: [],
});

describe("the pieces of a need", () => {
  it("are all of the text, in order, each with what it was understood as", () => {
    const text = "5 V to 3 V quickly";
    const found = piecesOf(
      text,
      read(
        [
          [0, 3, "supply_v"],
          [7, 10, "target_v"],
        ],
        [[11, 18]],
      ),
    );
    expect(found.map((p) => p.text).join("")).toBe(text);
    expect(found.map((p) => p.token ?? p.message ?? "")).toEqual([
      "supply_v",
      "",
      "target_v",
      "",
      "why",
    ]);
  });

  it("count characters, not halves of them", () => {
    const found = piecesOf("🙂 5 V", read([[2, 5, "supply_v"]], [[0, 1]]));
    expect(found.map((p) => p.text)).toEqual(["🙂", " ", "5 V"]);
  });

  it("are the text alone while nothing is read of it", () => {
    expect(piecesOf("5 V", null)).toEqual([{ text: "5 V" }]);
    expect(piecesOf("", null)).toEqual([]);
  });
});
