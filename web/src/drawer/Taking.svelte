<script lang="ts">
  import Notice from "../shell/Notice.svelte";
  import type { How, Taker } from "./taker.svelte";
  import { counted } from "../shell/counted";

  type Props = { stock: Taker };
  let { stock }: Props = $props();
  const ways = $derived(Object.entries(stock.ways) as [How, string][]);
</script>

{#if stock.pending}
  <Notice tone="done">
    <span class="mr-auto">
      <strong>{stock.pending.file.name}</strong> is understood: {counted(
        stock.pending.lines,
        "line",
      )}. Nothing is changed yet.
    </span>
    {#each ways as [how, words] (how)}
      <button type="button" class="btn btn-sm" onclick={() => stock.take(how)}>{words}</button>
    {/each}
    <button type="button" class="btn btn-sm" onclick={() => (stock.pending = null)}>Leave it</button
    >
  </Notice>
{:else if stock.refused.length > 0}
  <Notice tone="wrong">
    <div>
      <p class="text-fail font-semibold">✕ Nothing was taken over.</p>
      <ul class="mt-1 max-h-40 overflow-y-auto text-note">
        {#each stock.refused as bad, i (i)}<li>
            <strong>{bad.field}:</strong>
            {bad.message}
          </li>{/each}
      </ul>
      <button type="button" class="btn btn-xs mt-1" onclick={() => (stock.refused = [])}
        >Close</button
      >
    </div>
  </Notice>
{:else if stock.said}
  <Notice tone="done">{stock.said}</Notice>
{/if}
