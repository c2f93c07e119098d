/** The row under the cursor comes in full; an older answer never stands in its place. */
import { beforeEach, expect, it } from "vitest";

import type { Design, SheetAnswer } from "$api";
import { server } from "./server";
import { SheetState } from "../src/sheet/sheet.svelte";

const design = {
  id: 1,
  kind: "divider",
  brief: {},
  choice: null,
  revision: 1,
} as unknown as Design;
const rows = ["R1=1k", "R1=2k", "R1=3k"].map((notation) => ({ notation, listed: true }));
const sheet = (shown: string) =>
  ({ tokens: {}, scale: {}, choices: rows, shown: { notation: shown } }) as unknown as SheetAnswer;
const shown: { notation: string; answer: () => void }[] = [];

beforeEach(() => {
  shown.length = 0;
  server.answer = async (request: Request) => {
    if (!request.url.endsWith("/api/sheet/shown")) return Response.json(sheet("R1=1k"));
    const { choice } = (await request.json()) as { choice: string };
    return new Promise<Response>((done) =>
      shown.push({ notation: choice, answer: () => done(Response.json({ notation: choice })) }),
    );
  };
});

const settled = () => new Promise((done) => setTimeout(done, 5));

it("asks for the rows it has not, once, and shows the last one walked to", async () => {
  const state = new SheetState(design);
  await state.ask();
  expect(state.inFull?.notation).toBe("R1=1k");
  state.walk(1);
  state.walk(1);
  await settled();
  expect(shown.map((s) => s.notation)).toEqual(["R1=2k", "R1=3k"]);
  expect(state.inFull?.notation).toBe("R1=1k");
  shown[1]?.answer();
  await settled();
  expect(state.inFull?.notation).toBe("R1=3k");
  shown[0]?.answer();
  await settled();
  expect(state.inFull?.notation).toBe("R1=3k");
  state.walk(-2);
  await settled();
  expect(state.inFull?.notation).toBe("R1=1k");
  expect(shown).toHaveLength(2);
});
