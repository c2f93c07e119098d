import { expect, it } from "vitest";

import { Latest } from "../src/shell/latest";

it("gives the answer to what was asked last, in whatever order they come", async () => {
  const latest = new Latest();
  let first = (_: string) => {};
  const slow = latest.of(new Promise<string>((done) => (first = done)));
  const quick = latest.of(Promise.resolve("second"));
  expect(await quick).toBe("second");
  first("first");
  expect(await slow).toBeNull();
});

it("gives none where nobody wants it any more", async () => {
  const latest = new Latest();
  const asked = latest.of(Promise.resolve(1));
  latest.drop();
  expect(await asked).toBeNull();
});
