import { expect, test } from "vitest";

import { Undoing, type Kept } from "../src/shell/undoing";

const START: Kept = {
  name: "Battery sense",
  brief: { target_v: "3 V" },
  prefer: "nearest",
  why: "",
  choice: null,
  tags: [],
};
const wanting = (target_v: string): Kept => ({ ...START, brief: { target_v } });

test("typing one figure is one change, and is undone as one", () => {
  const undoing = new Undoing(START);
  undoing.note(wanting("3."), 0);
  undoing.note(wanting("3.1"), 300);
  undoing.note(wanting("3.1 V"), 600);
  expect(undoing.undo()).toEqual(START);
  expect(undoing.undoable).toBe(false);
  expect(undoing.redo()).toEqual(wanting("3.1 V"));
  expect(undoing.redo()).toBeUndefined();
});

test("a pause, another place or a choice begins another change", () => {
  const undoing = new Undoing(START);
  undoing.note(wanting("3.1 V"), 0);
  undoing.note(wanting("3.2 V"), 5000);
  const chosen = { ...wanting("3.2 V"), choice: "R1=1k + @OUT + R2=2k" };
  undoing.note(chosen, 5100);
  undoing.note({ ...chosen, choice: null }, 5200);
  expect(undoing.undo()).toEqual(chosen);
  expect(undoing.undo()).toEqual(wanting("3.2 V"));
  expect(undoing.undo()).toEqual(wanting("3.1 V"));
  expect(undoing.undo()).toEqual(START);
});

test("what is done after an undo takes the place of what was undone", () => {
  const undoing = new Undoing(START);
  undoing.note(wanting("3.1 V"), 0);
  undoing.undo();
  undoing.note(wanting("2 V"), 100);
  expect(undoing.redoable).toBe(false);
  expect(undoing.undo()).toEqual(START);
});

test("nothing changed is nothing to undo", () => {
  const undoing = new Undoing(START);
  undoing.note({ ...START, brief: { target_v: "3 V" } }, 0);
  expect(undoing.undoable).toBe(false);
});
