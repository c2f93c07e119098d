<script lang="ts">
  import Title from "../designs/Title.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import type { SheetState } from "./sheet.svelte";

  type Props = { sheet: SheetState };
  let { sheet }: Props = $props();
  const WORDS = { pass: "Pass", marginal: "Marginal", fail: "Fail", none: "Not judged" } as const;
  const verdict = $derived(sheet.shown?.verdict ?? null);
  const standing = $derived(sheet.answer?.standing);
</script>

<Title design={sheet} title={sheet.stale ? "" : (sheet.shown?.words ?? "")}>
  {#if sheet.stale}
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
</Title>
