<script lang="ts">
  import type { Figure } from "$api";

  type Props = { figure: Figure | null };
  let { figure }: Props = $props();
</script>

{#if figure}<span class="whitespace-nowrap"
    >{figure.text}&nbsp;<span class="unit">{figure.unit}</span></span
  >{:else}<span class="text-soft" aria-label="not stated">—</span>{/if}
