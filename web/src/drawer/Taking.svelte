<script lang="ts">
  import type { How, Taker } from "./taker.svelte";

  type Props = { stock: Taker };
  let { stock }: Props = $props();
  const ways = $derived(Object.entries(stock.ways) as [How, string][]);
</script>

{#if stock.pending}
  <div role="status" class="border-copper mb-3 flex items-center gap-3 border-l-2 py-1 pl-3">
    <span class="mr-auto">
      <strong>{stock.pending.file.name}</strong> is understood: {stock.pending.lines} lines. Nothing is
      changed yet.
    </span>
    {#each ways as [how, words] (how)}
      <button type="button" class="btn btn-sm" onclick={() => stock.take(how)}>{words}</button>
    {/each}
    <button type="button" class="btn btn-sm" onclick={() => (stock.pending = null)}>Leave it</button
    >
  </div>
{:else if stock.refused.length > 0}
  <div role="alert" class="border-fail mb-3 border-l-2 py-1 pl-3">
    <p class="text-fail font-semibold">✕ Nothing was taken over.</p>
    <ul class="mt-1 max-h-40 overflow-y-auto text-[13px]">
      {#each stock.refused as bad, i (i)}<li><strong>{bad.field}:</strong> {bad.message}</li>{/each}
    </ul>
    <button type="button" class="btn btn-xs mt-1" onclick={() => (stock.refused = [])}>Close</button
    >
  </div>
{:else if stock.said}
  <p role="status" class="border-copper mb-3 border-l-2 py-1 pl-3">{stock.said}</p>
{/if}
