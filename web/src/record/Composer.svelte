<script lang="ts">
  /** One line, written down by Enter; photographs by file. */
  import { KINDS, WRITTEN } from "./kinds";
  import type { RecordState } from "./record.svelte";

  type Props = { record: RecordState; narrow?: boolean };
  let { record, narrow = false }: Props = $props();
  let picker = $state<HTMLInputElement>();
</script>

<form
  class="flex items-center gap-2 {narrow ? 'flex-wrap' : ''}"
  onsubmit={(event) => {
    event.preventDefault();
    void record.write();
  }}
>
  <select class="select select-sm w-32" aria-label="What is written down" bind:value={record.kind}>
    {#each WRITTEN as kind (kind)}<option value={kind}>{KINDS[kind].word}</option>{/each}
  </select>
  <input
    class="input input-sm grow font-serif {narrow ? 'w-60' : ''}"
    aria-label="A line for the record"
    placeholder="A line for whoever reads this next"
    maxlength="4000"
    autocomplete="off"
    data-record="line"
    bind:value={record.draft}
  />
  <button type="submit" class="btn btn-sm" disabled={!record.draft.trim()}
    >Write it down <kbd class="kbd kbd-xs">Enter</kbd></button
  >
  <input
    bind:this={picker}
    type="file"
    accept="image/png,image/jpeg,image/webp"
    multiple
    class="sr-only"
    tabindex="-1"
    aria-label="Photographs"
    onchange={(event) => {
      void record.photograph([...(event.currentTarget.files ?? [])]);
      event.currentTarget.value = "";
    }}
  />
  <button type="button" class="btn btn-sm w-36" onclick={() => picker?.click()}>
    {#if record.sending > 0}
      <span class="loading loading-dots loading-xs" role="status" aria-label="sending"></span>
    {:else}Photographs…{/if}
  </button>
</form>
<p class="text-soft mt-1 text-note" aria-live="polite">
  {#if record.target !== null}
    The next photographs are put to no. {record.numbers[record.target]}: drop, paste or choose them.
    <button
      type="button"
      class="text-copper cursor-pointer underline underline-offset-4"
      onclick={() => (record.target = null)}>to none</button
    >
  {:else}Photographs may be dropped or pasted anywhere here: PNG, JPEG or WebP, to 10 MB. Where they
    were taken is not kept.{/if}
</p>
