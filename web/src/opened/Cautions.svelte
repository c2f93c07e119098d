<script lang="ts">
  import type { OpenedAnswer } from "$api";

  type Props = { cautions: OpenedAnswer["cautions"]; about: string[] };
  let { cautions, about }: Props = $props();
  const shown = $derived(cautions.filter((caution) => about.includes(caution.code)));
</script>

{#each shown as caution (caution.message)}
  <p class="border-marginal mt-1 mb-2 border-l-2 pl-2 text-note leading-snug">
    <strong class="text-marginal">Caution.</strong>
    {caution.message}
  </p>
{/each}
