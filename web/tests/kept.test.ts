/** One question under way at a time, the newest next; nothing typed is lost. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Design } from "$api";
import { server } from "./server";
import { outbox } from "../src/shell/outbox.svelte";
import { KeptDesign } from "../src/shell/kept.svelte";

const design = (more: Partial<Design> = {}): Design =>
  ({
    id: 7,
    name: "Battery sense",
    kind: "divider",
    brief: { supply_v: "14.4 V", target_v: 3 },
    prefer: "nearest",
    why: "",
    tags: [],
    choice: null,
    revision: 1,
    updated: "2026-11-26T00:00:00Z",
    ...more,
  }) as unknown as Design;

type Answer = { error?: { status: number; detail: string } };

/** A design whose questions are answered by hand. */
class Asked extends KeptDesign {
  readonly kind = "divider" as const;
  asked: { text: string; signal: AbortSignal; answer: (found?: Answer) => void }[] = [];

  work(signal: AbortSignal): Promise<Answer> {
    return new Promise((answer) => {
      const text = this.brief.target_v ?? "";
      this.asked.push({ text, signal, answer: (found = {}) => answer(found) });
    });
  }

  type(text: string): void {
    this.brief.target_v = text;
    this.changed();
  }
}

/** What the server would say to a save. */
type Save = {
  url: string;
  key: string | null;
  body: { revision: number; brief: Record<string, string> };
};
const saves: Save[] = [];
let saved: () => Response;

beforeEach(() => {
  vi.useFakeTimers();
  saves.length = 0;
  localStorage.clear();
  saved = () => Response.json(design({ revision: saves.length + 1 }));
  server.answer = async (request: Request) => {
    if (request.method === "GET") return Response.json([]);
    const key = request.headers.get("idempotency-key");
    saves.push({ url: request.url, key, body: await request.json() });
    return saved();
  };
});
afterEach(() => {
  vi.useRealTimers();
});

describe("asking", () => {
  it("has one question under way, and the newest typed goes next", async () => {
    const kept = new Asked(design());
    kept.type("3.1");
    kept.type("3.12");
    kept.type("3.123");
    expect(kept.asked.map((q) => q.text)).toEqual(["3.1"]);
    kept.asked[0]?.answer();
    await vi.advanceTimersByTimeAsync(0);
    expect(kept.asked.map((q) => q.text)).toEqual(["3.1", "3.123"]);
    expect(kept.asking).toBe(true);
    kept.asked[1]?.answer();
    await vi.advanceTimersByTimeAsync(0);
    expect(kept.asking).toBe(false);
    expect(kept.asked).toHaveLength(2);
  });

  it("drops a question that takes long for the newest", async () => {
    const kept = new Asked(design());
    kept.type("1");
    kept.type("2");
    await vi.advanceTimersByTimeAsync(260);
    expect(kept.asked.map((q) => q.text)).toEqual(["1", "2"]);
    expect(kept.asked[0]?.signal.aborted).toBe(true);
    kept.asked[0]?.answer({ error: { status: 422, detail: "too late" } });
    await vi.advanceTimersByTimeAsync(0);
    expect(kept.trouble).toBe("");
  });

  it("says why nothing came, and asks again where the server is away", async () => {
    const kept = new Asked(design());
    kept.type("1");
    kept.asked[0]?.answer({ error: { status: 0, detail: "the server does not answer" } });
    await vi.advanceTimersByTimeAsync(0);
    expect(kept.trouble).toBe("Not worked out: the server does not answer.");
    await vi.advanceTimersByTimeAsync(2000);
    expect(kept.asked).toHaveLength(2);
    kept.asked[1]?.answer();
    await vi.advanceTimersByTimeAsync(0);
    expect(kept.trouble).toBe("");
  });
});

describe("keeping", () => {
  it("takes texts as they are stored, numbers too", () => {
    expect(new Asked(design()).brief).toEqual({ supply_v: "14.4 V", target_v: "3" });
  });

  it("saves what was typed once it has been quiet, each from the revision before", async () => {
    const kept = new Asked(design());
    kept.type("3.1");
    kept.type("3.2");
    await vi.advanceTimersByTimeAsync(400);
    expect(saves.map((s) => s.body.brief.target_v)).toEqual(["3.2"]);
    expect(saves[0]?.body.revision).toBe(1);
    kept.rename("Sense");
    await vi.advanceTimersByTimeAsync(400);
    expect(saves[1]?.body.revision).toBe(2);
  });

  it("tries again where a save failed, with what is on screen by then", async () => {
    const kept = new Asked(design());
    saved = () => Response.json({ detail: "disk full" }, { status: 507 });
    kept.type("3.1");
    await vi.advanceTimersByTimeAsync(400);
    saved = () => Response.json(design({ revision: 2 }));
    kept.brief.target_v = "3.3";
    await vi.advanceTimersByTimeAsync(2500);
    expect(saves.map((s) => s.body.brief.target_v)).toEqual(["3.1", "3.3"]);
    expect(kept.revision).toBe(2);
  });

  it("sends what was not answered once more with its key, and what was typed since after it", async () => {
    const kept = new Asked(design());
    saved = () => {
      throw new TypeError("gone");
    };
    kept.type("3.1");
    await vi.advanceTimersByTimeAsync(400);
    saved = () => Response.json(design({ revision: saves.length }));
    kept.type("3.2");
    await vi.advanceTimersByTimeAsync(3000);
    expect(saves.map((s) => s.body.brief.target_v)).toEqual(["3.1", "3.1", "3.2"]);
    expect(saves[1]?.key).toBe(saves[0]?.key);
    expect(saves[2]?.key).not.toBe(saves[0]?.key);
    expect(saves.map((s) => s.body.revision)).toEqual([1, 1, 2]);
  });

  it("goes on from what another visit could not keep, and forgets it once it is kept", async () => {
    saved = () => Response.json({ detail: "the disk is full" }, { status: 507 });
    const before = new Asked(design());
    before.type("3.14");
    await vi.advanceTimersByTimeAsync(400);
    before.close();
    await vi.advanceTimersByTimeAsync(0);
    expect(outbox.waiting).toBe(1);
    const after = new Asked(design());
    after.open();
    expect(after.brief.target_v).toBe("3.14");
    expect(outbox.waiting).toBe(0);
    saved = () => Response.json(design({ revision: 2 }));
    await vi.advanceTimersByTimeAsync(400);
    expect(saves.at(-1)?.body).toMatchObject({ revision: 1, brief: { target_v: "3.14" } });
    expect(saves.filter((s) => s.body.brief.target_v === "3.14")).toHaveLength(3);
    const later = new Asked(design({ revision: 2 }));
    later.open();
    expect(later.brief.target_v).toBe("3");
  });

  it("knows its own save where it is said to be changed elsewhere", async () => {
    const kept = new Asked(design());
    const mine = design({ revision: 2, brief: { supply_v: "14.4 V", target_v: "3.1" } });
    saved = () => Response.json({ detail: "stale", current: mine }, { status: 409 });
    kept.type("3.1");
    await vi.advanceTimersByTimeAsync(400);
    expect([kept.conflict, kept.revision]).toEqual([null, 2]);
  });

  it("keeps both where it was changed elsewhere", async () => {
    const kept = new Asked(design());
    const theirs = design({ revision: 5, brief: { target_v: "2.5" } });
    saved = () => Response.json({ detail: "stale", current: theirs }, { status: 409 });
    kept.type("3.1");
    await vi.advanceTimersByTimeAsync(400);
    expect(kept.conflict?.revision).toBe(5);
    expect(kept.brief.target_v).toBe("3.1");
    saved = () => Response.json(design({ id: 8 }), { status: 201 });
    const copy = kept.settle("both");
    await vi.advanceTimersByTimeAsync(0);
    kept.asked.at(-1)?.answer();
    expect(await copy).toBe(8);
    expect(saves.at(-1)?.body.brief.target_v).toBe("3.1");
    expect([kept.brief.target_v, kept.revision]).toEqual(["2.5", 5]);
  });
});
