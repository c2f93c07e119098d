/** A busy server is asked again, as often as it may be worth it, and not for what is kept. */
import { beforeEach, expect, it, vi } from "vitest";

import { patiently } from "../src/api/patience";
import { server } from "./server";

let asked = 0;
let busy = 1;
let after = "1";

beforeEach(() => {
  vi.useFakeTimers();
  [asked, busy, after] = [0, 1, "1"];
  server.answer = () =>
    Promise.resolve(
      ++asked > busy
        ? Response.json({ fine: true })
        : new Response("{}", { status: 503, headers: after ? { "retry-after": after } : {} }),
    );
});

const question = (init: RequestInit = {}) =>
  new Request("/api/bench/suspects", { method: "POST", body: "{}", ...init });

it("asks again after as long as it is told to", async () => {
  const answer = patiently(question());
  await vi.advanceTimersByTimeAsync(999);
  expect(asked).toBe(1);
  await vi.advanceTimersByTimeAsync(1);
  expect((await answer).status).toBe(200);
});

it("gives up after three times, with what it was told", async () => {
  busy = 9;
  const answer = patiently(question());
  await vi.advanceTimersByTimeAsync(5000);
  expect((await answer).status).toBe(503);
  expect(asked).toBe(3);
});

it.each([
  ["a full disk, which says no time", "", {}],
  ["a time that nobody waits for", "60", {}],
  ["what is kept, which has its outbox", "1", { "idempotency-key": "k" }],
])("asks once: %s", async (_, told, headers) => {
  after = told;
  expect((await patiently(question({ headers }))).status).toBe(503);
  expect(asked).toBe(1);
});

it("stops waiting once nobody wants the answer", async () => {
  const wanted = new AbortController();
  const answer = patiently(question({ signal: wanted.signal }));
  const ended = expect(answer).rejects.toThrow("nobody waits");
  await vi.advanceTimersByTimeAsync(10);
  wanted.abort();
  await ended;
  expect(asked).toBe(1);
});
