import { expect, test } from "vitest";

import { counted } from "../src/shell/counted";

test.each([
  [0, "0 steps"],
  [1, "1 step"],
  [2, "2 steps"],
])("%i is said in words that agree", (count, words) => {
  expect(counted(count, "step")).toBe(words);
});

test("an irregular plural is given", () => {
  expect(counted(1, "entry", "entries")).toBe("1 entry");
  expect(counted(3, "entry", "entries")).toBe("3 entries");
});
