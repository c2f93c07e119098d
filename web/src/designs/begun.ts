/** A design as it begins, before anything of it is kept. */
import { tokensOf } from "../sheet/sentences";
import { KIND_WORDS } from "./kinds";
import type { Design } from "$api";
import { own } from "../help/own.svelte";
import type { Draft } from "../shell/kept.svelte";

export function begun(
  kind: Design["kind"],
  brief: Record<string, string> = {},
  more: Partial<Draft> = {},
): Draft {
  const now = new Date().toISOString();
  return {
    id: 0,
    revision: 0,
    name: `New ${KIND_WORDS[kind].replace(/^an? /, "")}`,
    kind,
    brief: { ...own.begins(tokensOf(kind)), ...brief },
    prefer: "nearest",
    why: "",
    choice: null,
    tags: [],
    created: now,
    updated: now,
    standing: null,
    ...more,
  };
}

/** A choice on its way from its sheet to be folded. */
export const handed: { draft: Draft | null } = { draft: null };
