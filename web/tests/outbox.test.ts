/** What the server does not have yet stays in the browser until it does, and is done once. */
import { beforeEach, expect, it, vi } from "vitest";

import type { EntryAsk } from "$api";
import { outbox, type HeldDesign } from "../src/shell/outbox.svelte";
import { server } from "./server";

const note = (text: string): EntryAsk => ({ kind: "note", text });
const state = {
  name: "Sense",
  brief: { target_v: "3" },
  prefer: "nearest",
  why: "",
  choice: null,
  tags: [],
};
const held = (more: Partial<HeldDesign> = {}): HeldDesign => ({
  what: "design",
  key: "key-of-the-last",
  at: 0,
  id: 7,
  kind: "divider",
  revision: 1,
  state,
  sent: null,
  ...more,
});

let away = true;
let served = "";
let stale = false;
let asked: { path: string; key: string | null; body: Record<string, unknown> }[] = [];

beforeEach(() => {
  vi.useFakeTimers({ now: 1e12 });
  localStorage.clear();
  [away, stale, asked] = [true, false, []];
  server.answer = async (request: Request) => {
    if (away) throw new TypeError("gone");
    if (request.method === "GET") return Response.json({ status: "ok", data: served });
    const body = (await request.json()) as Record<string, unknown>;
    asked.push({
      path: `${request.method} ${new URL(request.url).pathname}`,
      key: request.headers.get("idempotency-key"),
      body,
    });
    if (stale) return Response.json({ detail: "stale", current: { revision: 9 } }, { status: 409 });
    return Response.json({ ...body, id: 7, revision: Number(body.revision ?? 0) + 1 });
  };
});

it("writes lines down in their order once the server is there again, each once", async () => {
  const told: string[] = [];
  for (const text of ["first", "second"]) {
    const { error } = await outbox.enter(7, note(text), (kept) => told.push(kept.text));
    expect(error?.status).toBe(0);
    vi.setSystemTime(Date.now() + 10);
  }
  expect(outbox.waiting).toBe(2);
  away = false;
  await vi.advanceTimersByTimeAsync(2500);
  expect(asked.map((a) => a.body.text)).toEqual(["first", "second"]);
  expect(told).toEqual(["first", "second"]);
  expect(outbox.waiting).toBe(0);
  expect(localStorage.getItem("lowfold-unsaved")).toBeNull();
});

it("holds a reading from when it was typed until it is answered, whatever ends the page", async () => {
  let answered: (response: Response) => void = () => undefined;
  server.answer = () => new Promise((done) => (answered = done));
  const body = { point: { kind: "voltage" as const, at: "OUT" }, text: "3V02" };
  const reading = outbox.read(7, body);
  const kept = localStorage.getItem("lowfold-unsaved") ?? "";
  expect(Object.values(JSON.parse(kept) as Record<string, { body: unknown }>)).toMatchObject([
    { what: "reading", id: 7, body },
  ]);
  expect(outbox.waiting).toBe(0);
  answered(Response.json({ entry: { id: 3, text: "3V02" } }, { status: 201 }));
  expect((await reading).data?.id).toBe(3);
  expect(localStorage.getItem("lowfold-unsaved")).toBeNull();
});

it("sends what was not answered first, then what was typed since, from the revision that made", async () => {
  outbox.hold(
    "design-7",
    held({ sent: { key: "key-of-the-first", state: { ...state, why: "old" } } }),
  );
  away = false;
  await outbox.deliver();
  expect(asked.map((a) => [a.key, a.body.revision])).toEqual([
    ["key-of-the-first", 1],
    ["key-of-the-last", 2],
  ]);
  expect(outbox.waiting).toBe(0);
});

it("makes a design of a draft, and leaves one that was changed elsewhere to whoever opens it", async () => {
  outbox.hold("draft-1", held({ id: 0 }));
  away = false;
  await outbox.deliver();
  expect(asked.map((a) => a.path)).toEqual(["POST /api/designs"]);
  stale = true;
  outbox.hold("design-7", held());
  await outbox.deliver();
  await outbox.deliver();
  expect(asked).toHaveLength(2);
  expect(outbox.listed.map((one) => one.stuck)).toEqual(["stale"]);
  expect(outbox.takeOver("design-7")?.stuck).toBe("stale");
});

it("leaves alone what a view looks after, and what another window may be typing", async () => {
  away = false;
  outbox.own("design-7", true);
  outbox.hold("design-7", held());
  const theirs = { "/design-8/other": held({ id: 8, at: Date.now() }) };
  localStorage.setItem("lowfold-unsaved", JSON.stringify(theirs));
  await outbox.deliver();
  expect(asked).toEqual([]);
  expect(outbox.takeOver("design-8")).toBeNull();
  outbox.own("design-7", false);
  vi.setSystemTime(Date.now() + 5000); // its window is gone by now
  await outbox.deliver();
  expect(asked.map((a) => a.path)).toEqual(["PUT /api/designs/8"]);
});

it("keeps what was typed for one database from every other", async () => {
  served = "one";
  away = false;
  await outbox.deliver();
  away = true;
  await outbox.enter(7, note("for the first"));
  [served, away] = ["other", false];
  await outbox.deliver();
  expect([asked.length, outbox.waiting]).toEqual([0, 0]);
  served = "one";
  await outbox.deliver();
  expect(asked.map((a) => a.body.text)).toEqual(["for the first"]);
});

it("keeps a line that the server refuses, says why, and gives it up when told", async () => {
  await outbox.enter(7, note("of a design that is gone"));
  [away, stale] = [false, true];
  await outbox.deliver();
  expect(outbox.listed).toMatchObject([{ words: "of a design that is gone", stuck: "stale" }]);
  for (const one of outbox.listed) outbox.throwAway(one.at);
  expect(outbox.waiting).toBe(0);
});

it("works where the browser keeps nothing, and says so", async () => {
  const setItem = vi.spyOn(localStorage, "setItem").mockImplementation(() => {
    throw new DOMException("full", "QuotaExceededError");
  });
  await outbox.enter(7, note("only here"));
  expect(outbox.forbidden).toBe(true);
  away = false;
  await outbox.deliver();
  expect(asked.map((a) => a.body.text)).toEqual(["only here"]);
  setItem.mockRestore();
});
