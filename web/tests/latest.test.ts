import { expect, it } from "vitest";

import { Latest } from "../src/shell/latest";

it("gives the answer to what was asked last, in whatever order they come", async () => {
  const latest = new Latest();
  const waiting: ((found: string) => void)[] = [];
  const slow = latest.of(new Promise<string>((done) => waiting.push(done)));
  const quick = latest.of(Promise.resolve("second"));
  expect(await quick).toBe("second");
  waiting[0]?.("first");
  expect(await slow).toBeNull();
});

it("gives none where nobody wants it any more", async () => {
  const latest = new Latest();
  const asked = latest.of(Promise.resolve(1));
  latest.drop();
  expect(await asked).toBeNull();
});
