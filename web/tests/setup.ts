/** A browser's storage, and addresses without a host, where there is no browser. */
import { vi } from "vitest";

import { server } from "./server";

vi.stubGlobal("fetch", (request: Request) => server.answer(request));

vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {} });
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
