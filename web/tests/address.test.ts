/** An answer that comes late does not fetch its reader back to where they were. */
import { beforeEach, expect, it } from "vitest";

import { PracticeState } from "../src/practice/practice.svelte";
import { Address } from "../src/shell/address";
import { server } from "./server";

beforeEach(() => (location.hash = "#/practice/estimate"));

it("names what was opened where it stands, and again after it", () => {
  const address = new Address("/practice/estimate");
  address.become("/practice/estimate/30");
  address.become("/practice/estimate/31");
  expect(location.hash).toBe("#/practice/estimate/31");
});

it("leaves an address alone to which one has gone meanwhile", () => {
  const address = new Address("/practice/estimate");
  location.hash = "#/";
  address.become("/practice/estimate/30");
  expect(location.hash).toBe("#/");
});

it("a question that comes after another drill was chosen does not lead back", async () => {
  server.answer = (request: Request) => {
    location.hash = "#/practice/series"; // chosen while it was on its way; the page is not told yet
    const asked = new URL(request.url).pathname.endsWith("/progress");
    return Promise.resolve(
      Response.json(asked ? { drills: [], weeks: [] } : { id: 31, drill: "estimate", level: 3 }),
    );
  };
  const practice = new PracticeState();
  await practice.open("estimate", null, "/practice/estimate");
  expect(practice.question?.id).toBe(31);
  expect(location.hash).toBe("#/practice/series");
});
