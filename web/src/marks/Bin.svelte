<script lang="ts">
  /** The parts to be fetched from the bin, each as it looks there. */
  import type { PartLook } from "$api";
  import MarkWords from "./MarkWords.svelte";
  import PartMark from "./PartMark.svelte";

  type Props = { parts: PartLook[] };
  let { parts }: Props = $props();
</script>

<div class="border-crease mt-3 border-t pt-2" data-bin>
  <h3 class="label-small">From the bin</h3>
  <ul class="mt-1 grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-x-5 gap-y-1">
    {#each parts as part (part.ref)}
      <li class="flex items-center gap-2 text-note">
        <span class="w-7">{part.ref}</span>
        <strong class="w-16 text-right whitespace-nowrap">{part.shown}</strong>
        {#if part.bands.length > 0 || part.code}
          <PartMark look={part.look} bands={part.bands} code={part.code} />
        {/if}
        <span class="min-w-0 leading-tight"><MarkWords mark={part} /></span>
      </li>
    {/each}
  </ul>
</div>
