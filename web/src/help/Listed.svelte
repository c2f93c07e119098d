<script lang="ts">
  /** Keys, or ways of writing, each with what it means. */
  type Props = { list: [string, string][] };
  let { list }: Props = $props();
</script>

<dl
  class="border-crease grid grid-cols-[11rem_1fr] gap-y-1.5 border-t py-3 max-sm:grid-cols-[7rem_1fr]"
>
  {#each list as [key, meaning] (meaning)}
    <dt class="font-semibold">{key}</dt>
    <dd class="text-soft">{meaning}</dd>
  {/each}
</dl>
