/** The stock as it is edited: a list that is shown as it was is one that is changed as it was. */
import { expect, it } from "vitest";

import { DrawerState } from "../src/drawer/drawer.svelte";
import { server } from "./server";

const line = (count: number) => ({
  id: 1,
  ohm: 5100,
  value: "5.1",
  unit: "kΩ",
  count,
  tolerance: 0.01,
  tolerance_shown: "1 %",
  family: "",
});
it("shows a changed line again only as it is now", async () => {
  let kept = line(7);
  server.answer = async (request) => {
    if (request.method === "PUT") kept = line(9);
    const all = { lines: [kept], values: 1, parts: kept.count };
    return Response.json(request.method === "PUT" ? kept : all);
  };
  const stock = new DrawerState();
  await stock.load();
  stock.edit(kept);
  stock.draft.count = "9";
  const shown: unknown[] = [];
  const leave = stock.leave.bind(stock);
  stock.leave = () => {
    shown.push(stock.found?.lines[0]?.count);
    leave();
  };
  expect(await stock.keep()).toBe(true);
  expect(shown).toEqual([9]);
  expect(stock.editing).toBeNull();
});
