<script lang="ts">
  /** What was deleted in the last 30 days. */
  import type { DesignsState } from "./designs.svelte";

  type Props = { designs: DesignsState };
  let { designs }: Props = $props();
  const when = (at: string) => new Date(at).toLocaleDateString([], { dateStyle: "medium" });
</script>

<section class="border-crease max-h-48 shrink-0 overflow-y-auto border-t py-2" data-deleted>
  <h2 class="label-small">Deleted, kept for 30 days</h2>
  {#if designs.deleted?.length === 0}<p class="text-soft mt-1">Nothing.</p>{/if}
  <ul>
    {#each designs.deleted ?? [] as design (design.id)}
      <li class="flex items-baseline gap-3 py-1">
        <span class="font-serif font-semibold">{design.name || "Untitled"}</span>
        <span class="text-soft text-note">{design.kind}, deleted {when(design.deleted)}</span>
        <button type="button" class="btn btn-xs" onclick={() => designs.putBack(design)}
          >Bring back</button
        >
      </li>
    {/each}
  </ul>
</section>
