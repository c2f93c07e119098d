/** The bench keeps what was typed where it was typed, whatever happens meanwhile. */
import { beforeEach, expect, it } from "vitest";

import type { Design, Reading, RoundAnswer, RoundAsk } from "$api";
import { BenchState } from "../src/bench/bench.svelte";
import { server } from "./server";

const POINTS = [
  { kind: "resistance", part: "R1" },
  { kind: "voltage", at: "OUT", against: "0" },
];
const design = { id: 7, kind: "network", brief: {}, choice: null } as unknown as Design;

let asked: RoundAsk[] = [];
let kept: Record<string, unknown>[] = [];
let away = false;

/** A round as the server would answer it: a reading of 9 is far out, any other as expected. */
function round(ask: RoundAsk): RoundAnswer {
  const steps = POINTS.map((point) => {
    const read = ask.readings?.find(
      (r) => r.kind === point.kind && (r.at ?? null) === (point.at ?? null),
    );
    return {
      key: Object.values(point).join(" "),
      asked: point,
      point: { kind: point.kind, words: point.kind, lowest: 1, highest: 2 },
      reading: read ? { text: read.text, value: Number(read.text), overload: false } : null,
      told: read ? (read.text === "9" ? "far out" : "as expected") : null,
    };
  });
  const far = steps.findIndex((s) => s.told === "far out");
  const left = steps.findIndex((s) => s.told === null);
  return {
    board: "R1=1k",
    low: "",
    places: { in: {}, OUT: {}, "0": {} },
    parts: [{ ref: "R1" }],
    meter: "handheld, 6000 counts",
    steps,
    stopped: far < 0 ? null : far,
    following: left < 0 ? null : left,
  } as unknown as RoundAnswer;
}

beforeEach(() => {
  asked = [];
  kept = [];
  away = false;
  server.answer = async (request: Request) => {
    const path = new URL(request.url).pathname;
    if (path === "/api/meters")
      return Response.json({ meters: [{ name: "handheld, 6000 counts" }] });
    if (path === "/api/instruments") return Response.json({ instruments: [] });
    if (path.endsWith("/readings") && request.method === "GET") return Response.json([]);
    if (path === "/api/bench/suspects")
      return Response.json({ hypotheses: [], next: [], readings: [] });
    const body = (await request.json()) as Record<string, unknown>;
    if (path === "/api/bench/round") {
      asked.push(body as RoundAsk);
      return Response.json(round(body as RoundAsk));
    }
    if (away) return new Response("{}", { status: 503 });
    kept.push(body);
    const entry = { ...body, kind: body.kind ?? "reading", id: kept.length } as unknown as Reading;
    const answer = path.endsWith("/readings") ? { entry } : entry;
    return Response.json(answer, { status: 201 });
  };
});

async function opened(): Promise<BenchState> {
  const bench = new BenchState(design);
  await bench.open();
  return bench;
}

const settled = () => new Promise((done) => setTimeout(done, 20));

it("goes to the next point once a reading is kept, and stops at one far out", async () => {
  const bench = await opened();
  expect(bench.at).toBe("resistance R1");
  bench.type("5");
  await bench.keep();
  expect(bench.at).toBe("voltage OUT 0");
  bench.type("9");
  await bench.keep();
  expect(bench.at).toBe("voltage OUT 0");
  expect(bench.round?.stopped).toBe(1);
  const [board, meter] = ["R1=1k", "handheld, 6000 counts"];
  expect(kept).toEqual([
    { point: POINTS[0], text: "5", board, meter },
    { point: POINTS[1], text: "9", board, meter },
  ]);
});

it("keeps what was typed at a point when the leads move on before it is kept", async () => {
  const bench = await opened();
  bench.type("5");
  bench.stand("voltage OUT 0");
  expect(bench.draft).toBe("");
  await settled();
  expect(kept.map((k) => [k.text, (k.point as { part?: string }).part])).toEqual([["5", "R1"]]);
  expect(bench.steps[0]?.reading?.text).toBe("5");
});

it("holds on to what could not be kept, and keeps it when asked again", async () => {
  const bench = await opened();
  away = true;
  bench.type("5");
  await bench.keep();
  expect(bench.unkept).toBe(1);
  expect(bench.lost).toContain("“5”");
  expect(bench.steps[0]?.reading?.text).toBe("5");
  away = false;
  await bench.keepAgain();
  expect(bench.unkept).toBe(0);
  expect(bench.lost).toBe("");
  expect(kept).toHaveLength(1);
});

it("takes a reading back by a correction, and puts a draft back without one", async () => {
  const bench = await opened();
  bench.type("5");
  await bench.keep();
  bench.stand("resistance R1");
  bench.type("6");
  bench.undo();
  expect(bench.draft).toBe("5");
  bench.type("");
  await bench.keep(false);
  expect(kept.at(-1)).toMatchObject({ kind: "correction", corrects: 1 });
  expect(bench.steps[0]?.reading).toBeNull();
});

it("lets one type the next reading before the one before is kept", async () => {
  const bench = await opened();
  bench.type("5");
  await settled();
  const first = bench.keep();
  bench.type("6");
  await first;
  expect(bench.at).toBe("voltage OUT 0");
  expect(bench.draft).toBe("6");
  await bench.keep();
  expect(kept.map((one) => [(one.point as { kind: string }).kind, one.text])).toEqual([
    ["resistance", "5"],
    ["voltage", "6"],
  ]);
});

it("leaves the leads where they were put while a reading was being kept", async () => {
  const bench = await opened();
  bench.type("5");
  const keeping = bench.keep();
  bench.stand("resistance R1");
  await keeping;
  expect(bench.at).toBe("resistance R1");
});

it("takes a reading that says itself where it was read, and goes there", async () => {
  const bench = await opened();
  bench.type("out 1V5");
  await settled();
  expect(asked.at(-1)?.readings).toMatchObject([{ kind: "voltage", at: "OUT", text: "1V5" }]);
  await bench.keep(false);
  expect(bench.at).toBe("voltage OUT 0");
  expect(kept).toMatchObject([{ point: POINTS[1], text: "1V5" }]);
  expect(bench.steps[0]?.reading).toBeNull();
});
