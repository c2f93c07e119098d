/** Writing in a drawing is read at whatever size it is drawn. */
import { describe, expect, it } from "vitest";

import { LEAST, Writing } from "../src/kit/writing.svelte";

const drawn = (width: number, height: number) =>
  new Writing(
    () => ({ width: 400, height: 300 }),
    () => ({ width, height }),
  );

describe("writing", () => {
  it("is as it is set where there is room", () => {
    const writing = drawn(800, 600);
    expect([writing.scale, writing.much, writing.at(12)]).toEqual([2, "figures", 12]);
  });

  it("is never smaller on screen than what can be read", () => {
    for (const width of [380, 300, 200, 120, 60]) {
      const writing = drawn(width, 2000);
      expect(writing.at(12) * writing.scale).toBeGreaterThanOrEqual(LEAST);
    }
  });

  it("says less the smaller it is drawn: figures, values, names", () => {
    expect([390, 300, 200].map((width) => drawn(width, 2000).much)).toEqual([
      "figures",
      "values",
      "names",
    ]);
  });

  it("goes by the side that is short of room", () => {
    expect(drawn(4000, 150).scale).toBe(0.5);
  });

  it("is all of it for a file, and before anything is drawn", () => {
    const writing = drawn(100, 100);
    writing.full = true;
    expect([writing.scale, writing.much]).toEqual([1, "figures"]);
    expect(drawn(0, 0).scale).toBe(1);
  });
});
