<script lang="ts">
  /** The record beside the work: written in, and read, without leaving it. */
  import { onMount } from "svelte";

  import { getDesign } from "$api";
  import Notice from "../shell/Notice.svelte";
  import { allKept } from "../shell/saves";
  import Composer from "./Composer.svelte";
  import { imagesOf } from "./photographs.svelte";
  import { RecordState } from "./record.svelte";
  import Timeline from "./Timeline.svelte";

  type Props = { id: number; onclose: () => void };
  let { id, onclose }: Props = $props();
  let record = $state.raw<RecordState | null>(null);
  let trouble = $state("");

  onMount(() => {
    void allKept()
      .then(() => getDesign(id))
      .then(async ({ data, error }) => {
        if (error) {
          trouble = `Not read: ${error.detail}.`;
          return;
        }
        const found = new RecordState(data);
        await found.open();
        record = found;
      });
  });
</script>

<svelte:window
  onkeydown={(event) => {
    if (event.key === "Escape") onclose();
  }}
  onpaste={(event) => {
    const files = imagesOf(event.clipboardData);
    if (files.length > 0) void record?.photograph(files);
  }}
/>

<aside
  class="border-crease bg-base-100 fixed top-[92px] right-0 bottom-0 z-20 flex w-[30rem] max-w-full flex-col border-l px-4 pt-3"
  aria-label="Record beside the work"
  data-beside
>
  <div class="mb-2 flex items-baseline gap-3">
    <h2 class="label-small">Record</h2>
    <a class="text-copper text-note underline underline-offset-4" href="#/designs/{id}/record"
      >whole, with hand-over and revisions</a
    >
    <button type="button" class="btn btn-xs ml-auto" onclick={onclose}
      >Close <kbd class="kbd kbd-xs">Esc</kbd></button
    >
  </div>
  {#if trouble || record?.trouble}
    <Notice tone="wrong"><span class="text-fail">✕ {trouble || record?.trouble}</span></Notice>
  {/if}
  {#if record}
    <Composer {record} narrow />
    <div class="min-h-0 flex-1 overflow-y-auto pb-4"><Timeline {record} /></div>
  {:else if !trouble}<p class="text-soft" role="status">Reading the record…</p>{/if}
</aside>
