<script lang="ts">
  /** What was decided, read and found of a design, with its photographs; and how it is handed on. */
  import { onMount } from "svelte";

  import type { Design } from "$api";
  import Heading from "../designs/Heading.svelte";
  import Notice from "../shell/Notice.svelte";
  import { status } from "../shell/status.svelte";
  import Compared from "./Compared.svelte";
  import Composer from "./Composer.svelte";
  import HandOver from "./HandOver.svelte";
  import { KINDS, type Kind } from "./kinds";
  import { imagesOf, PhotographDrop } from "./photographs.svelte";
  import { RecordState } from "./record.svelte";
  import Timeline from "./Timeline.svelte";
  import { counted } from "../shell/counted";
  import { pressed } from "../kit/keys";

  type Props = { design: Design };
  let { design }: Props = $props();
  // The page is keyed by the design: each has a state of its own, made once.
  const record = new RecordState((() => design)());
  const drop = new PhotographDrop((files) => void record.photograph(files));

  onMount(() => {
    status.kept = "";
    void record.open();
  });

  function onkeydown(event: KeyboardEvent) {
    const place = pressed(event, "write") ? "line" : pressed(event, "find") ? "find" : "";
    if (!place) return;
    event.preventDefault();
    document.querySelector<HTMLElement>(`[data-record=${place}]`)?.focus();
  }
</script>

<svelte:window
  {onkeydown}
  onpaste={(event) => {
    const files = imagesOf(event.clipboardData);
    if (files.length > 0) void record.photograph(files);
  }}
  ondragover={(event) => drop.over(event)}
  ondragleave={(event) => drop.left(event)}
  ondrop={(event) => drop.dropped(event)}
/>

<div class="flex h-full flex-col">
  <Heading {design} at="record">
    <span class="text-soft">
      {#if record.entries}{counted(record.entries.length, "entry", "entries")}, revision {record
          .design.revision}{/if}
    </span>
  </Heading>
  <div class="record min-h-0 flex-1 overflow-y-auto">
    <section class="log px-5 pt-3 pb-8" aria-label="Timeline">
      {#if record.trouble}
        <Notice tone="wrong">
          <span class="text-fail">✕ {record.trouble}</span>
          <button type="button" class="btn btn-xs" onclick={() => (record.trouble = "")}
            >Close</button
          >
        </Notice>
      {:else if record.said}
        <Notice tone="done">{record.said}</Notice>
      {/if}
      <Composer {record} />
      <div class="border-crease mt-3 flex flex-wrap items-center gap-x-4 gap-y-1 border-b pb-2">
        <label class="flex items-baseline gap-2 text-note">
          <span class="text-soft">find</span>
          <input
            type="search"
            class="input input-xs w-36"
            maxlength="200"
            data-record="find"
            bind:value={record.words}
          />
        </label>
        {#each Object.entries(KINDS) as [kind, { shape, word }] (kind)}
          <label class="flex cursor-pointer items-center gap-1.5 text-note whitespace-nowrap">
            <input
              type="checkbox"
              class="checkbox checkbox-xs"
              checked={!record.hidden.includes(kind as Kind)}
              onchange={(event) => record.show(kind as Kind, event.currentTarget.checked)}
            />
            <span aria-hidden="true">{shape}</span>
            {word}s
          </label>
        {/each}
      </div>
      <Timeline {record} />
    </section>
    <aside class="aside border-crease px-5 pt-3 pb-8" aria-label="Hand-over">
      {#if record.compared}<Compared {record} compared={record.compared} />
      {:else if record.picked.length === 1}
        <p class="border-copper mb-4 border-l-2 py-0.5 pl-3">
          Revision {record.picked[0]} is picked: pick another to compare it with.
        </p>
      {/if}
      <HandOver design={record.design} />
    </aside>
  </div>
  {#if drop.here}
    <div
      class="border-copper pointer-events-none fixed inset-3 z-10 flex items-center justify-center rounded-box border-2 border-dashed bg-base-100/80"
    >
      <p class="text-figure font-serif font-semibold">
        {record.target === null
          ? "Let go to keep the photograph"
          : `Let go to put the photograph to no. ${record.numbers[record.target]}`}
      </p>
    </div>
  {/if}
</div>

<style>
  .record {
    display: grid;
    grid-template-columns: minmax(0, 1fr);
  }
  @media (min-width: 1000px) {
    .record {
      grid-template-columns: minmax(0, 1fr) 24rem;
    }
    .log,
    .aside {
      overflow-y: auto;
    }
    .aside {
      border-left-width: 1px;
    }
  }
  @media (min-width: 1700px) {
    .record {
      grid-template-columns: minmax(0, 1fr) 34rem;
    }
  }
</style>
