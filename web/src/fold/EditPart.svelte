<script lang="ts">
  import type { FoldState } from "./fold.svelte";

  type Props = { fold: FoldState };
  let { fold }: Props = $props();
  let value = $state("");
  const ACTIONS = [
    ["change", "change to it"],
    ["series", "in series"],
    ["parallel", "in parallel"],
    ["remove", "take out"],
  ] as const;
</script>

<div class="mt-1 flex items-center gap-1.5 text-note">
  <input
    class="border-copper text-copper placeholder:text-soft w-16 border-b px-0.5 font-semibold placeholder:font-normal"
    aria-label="value to use"
    placeholder="4k7"
    autocomplete="off"
    spellcheck="false"
    maxlength="60"
    bind:value
    onkeydown={(event) => event.key === "Enter" && fold.edit("change", value)}
  />
  {#each ACTIONS as [action, words] (action)}
    <button type="button" class="btn btn-xs" onclick={() => fold.edit(action, value)}
      >{words}</button
    >
  {/each}
</div>
{#if fold.editTrouble}<p class="text-fail mt-1 text-note">✕ {fold.editTrouble}</p>{/if}
