<script lang="ts">
  import type { PracticeState } from "./practice.svelte";

  type Props = { practice: PracticeState };
  let { practice }: Props = $props();
  const refs = $derived(practice.question?.refs ?? []);
  const WAYS = [
    ["series", "s", "in series", "one current, no other way to go"],
    ["parallel", "p", "in parallel", "one voltage, both ends shared"],
    ["neither", "n", "neither", "not one current, not one voltage"],
  ] as const;
</script>

<p class="label-small">{refs.join(" and ")} are</p>
<div
  class="mt-2 flex flex-col gap-2 max-[900px]:flex-row max-sm:flex-col"
  role="group"
  aria-label="Your answer"
>
  {#each WAYS as [relation, key, words, meaning] (relation)}
    <button
      type="button"
      class="btn h-auto min-h-12 max-[900px]:flex-1 justify-start gap-3 py-2 font-normal"
      data-relation={relation}
      disabled={practice.busy}
      onclick={() => practice.give({ relation })}
    >
      <kbd class="kbd kbd-sm text-base-content">{key}</kbd>
      <span class="text-left"
        ><strong class="text-read">{words}</strong><br /><span class="text-soft text-note"
          >{meaning}</span
        ></span
      >
    </button>
  {/each}
</div>
