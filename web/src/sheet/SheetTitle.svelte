<script lang="ts">
  import VerdictMark from "../shell/VerdictMark.svelte";
  import type { SheetState } from "./sheet.svelte";

  type Props = { sheet: SheetState };
  let { sheet }: Props = $props();
  const WORDS = { pass: "Pass", marginal: "Marginal", fail: "Fail", none: "Not judged" } as const;
  const verdict = $derived(sheet.shown?.verdict ?? null);
  const standing = $derived(sheet.answer?.standing);
</script>

<div class="border-crease flex h-12 shrink-0 items-center gap-4 border-b px-5">
  <h1 class="sr-only">{sheet.name || "Untitled"}</h1>
  <input
    class="hover:border-crease focus:border-copper -ml-1.5 field-sizing-content max-w-md min-w-24 rounded-field border border-transparent px-1.5 font-serif text-xl font-semibold"
    aria-label="Name of the design"
    maxlength="200"
    placeholder="Untitled"
    value={sheet.name}
    oninput={(event) => sheet.rename(event.currentTarget.value)}
  />
  <span class="text-soft whitespace-nowrap">{sheet.kind} · revision {sheet.revision}</span>
  <div class="ml-auto truncate" aria-live="polite">
    {#if sheet.trouble}
      <span class="text-fail">✕ {sheet.trouble}</span>
    {:else if sheet.stale}
      <VerdictMark verdict={null} word="Waiting" />
      <span class="text-soft">— {standing?.words}</span>
    {:else if sheet.slow}
      <span class="loading loading-dots loading-xs" aria-hidden="true"></span>
      <span class="text-soft">searching</span>
    {:else if sheet.answer}
      <VerdictMark {verdict} word={WORDS[verdict ?? "none"]} />
      <span class="text-soft"
        >— {sheet.shown?.pinned ? "pinned" : "under the cursor"}: {sheet.shown?.words ??
          standing?.words}</span
      >
    {/if}
  </div>
</div>
