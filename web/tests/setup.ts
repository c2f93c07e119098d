/** A browser's storage, and addresses without a host, where there is no browser. */
import { vi } from "vitest";

import { server } from "./server";

vi.stubGlobal("fetch", (request: Request) => server.answer(request));

/** What the browser of the tests keeps. */
const kept = new Map<string, string>();
vi.stubGlobal("localStorage", {
  getItem: (key: string) => kept.get(key) ?? null,
  setItem: (key: string, text: string) => void kept.set(key, text),
  removeItem: (key: string) => void kept.delete(key),
  clear: () => kept.clear(),
});
vi.stubGlobal("navigator", {});
vi.stubGlobal("location", { hash: "" });
vi.stubGlobal("history", {
  state: null,
  replaceState: (_state: unknown, _title: string, address: string) => {
    location.hash = address;
  },
});
const Plain = globalThis.Request;
vi.stubGlobal(
  "Request",
  class extends Plain {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(
        typeof input === "string" && input.startsWith("/") ? `http://test${input}` : input,
        init,
      );
    }
  },
);
