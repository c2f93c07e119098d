<script lang="ts">
  import { push } from "svelte-spa-router";
  import { onDestroy, untrack } from "svelte";

  import type { Design } from "$api";
  import Progress from "../shell/Progress.svelte";
  import Notice from "../shell/Notice.svelte";
  import { outbox } from "../shell/outbox.svelte";
  import { KIND_WORDS } from "./kinds";
  import DesignRows from "./DesignRows.svelte";
  import { DesignsState } from "./designs.svelte";
  import Finding from "./Finding.svelte";
  import Picked from "./Picked.svelte";
  import { SharingState } from "./sharing.svelte";
  import { pressed, typing } from "../kit/keys";

  const designs = new DesignsState();
  const sharing = new SharingState();
  let picked = $state<Design[]>([]);
  let buying = $state(false);
  const KINDS = Object.entries(KIND_WORDS) as [Design["kind"], string][];

  $effect(() => {
    // At first, and when what waited in this browser was sent: the list is another
    if (outbox.delivered >= 0) untrack(() => void designs.load());
  });

  onDestroy(() => {
    sharing.close();
    designs.close();
  });

  async function go(id: Promise<number | undefined>) {
    const found = await id;
    if (found) await push(`/designs/${found}`);
  }
</script>

<svelte:head><title>Designs – Lowfold</title></svelte:head>

<svelte:window
  onkeydown={(event) => {
    if (pressed(event, "undo") !== "z" || typing(event) || !designs.removed) return;
    event.preventDefault();
    void designs.putBack(designs.removed);
  }}
  ondragover={(event) => event.dataTransfer?.types.includes("Files") && event.preventDefault()}
  ondrop={(event) => {
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length === 0) return;
    event.preventDefault();
    void designs.takeIn(files);
  }}
/>

<section
  class="mx-auto flex h-full max-w-7xl flex-col px-8 pt-5 pb-3 max-sm:overflow-y-auto max-sm:px-3 max-sm:pt-3"
>
  <div class="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-2">
    <h1 class="font-serif text-figure font-semibold">Designs</h1>
    <p class="text-soft" role="status">
      {#if designs.waiting > 0}{designs.waiting} being worked out{/if}
    </p>
    <div class="ml-auto flex flex-wrap items-center gap-2">
      <span class="text-soft">New:</span>
      {#each KINDS as [kind, words] (kind)}
        <a class="btn btn-sm" href="#/new/{kind}">{words}</a>
      {/each}
    </div>
  </div>
  {#if designs.total > 0 || designs.narrowed}<Finding {designs} />{/if}

  {#if designs.trouble}
    <Notice tone="wrong">
      <span class="text-fail">✕ {designs.trouble}</span>
      <button type="button" class="btn btn-xs" onclick={() => designs.load()}>Try again</button>
    </Notice>
  {/if}
  {#if designs.reading.running}<Progress of={designs.reading} label="A file is read" />{/if}
  {#if designs.said}<Notice tone="done">{designs.said}</Notice>{/if}
  {#if designs.removed}
    {@const removed = designs.removed}
    <Notice tone="done">
      <span>“{removed.name}” is deleted; for 30 days it can be brought back.</span>
      <button type="button" class="btn btn-xs" onclick={() => designs.putBack(removed)}
        >Put it back <kbd class="kbd kbd-xs">Ctrl Z</kbd></button
      >
    </Notice>
  {/if}
  {#if sharing.trouble || sharing.job || sharing.taken}
    {#await import("./Sharing.svelte") then panel}
      <panel.default
        {sharing}
        ontaken={() => {
          picked = [];
          void designs.load();
        }}
      />
    {/await}
  {/if}
  {#if buying && picked.length > 0}
    {#await import("./PartsToBuy.svelte") then panel}
      <panel.default designs={picked} onclose={() => (buying = false)} />
    {/await}
  {/if}

  {#if designs.rows === null}
    <p class="text-soft" role="status">{designs.trouble ? "" : "Reading the designs…"}</p>
  {:else if designs.total === 0 && designs.narrowed}
    <div class="text-soft border-crease border-t py-10 text-center">
      <p>No design is like that: look for fewer words, or another state or tag.</p>
      {#if designs.words.trim()}
        {#await import("../line/AsNeed.svelte") then line}
          <line.default text={designs.words} />
        {/await}
      {/if}
    </div>
  {:else if designs.total === 0}
    {#await import("./First.svelte") then first}<first.default />{/await}
  {:else}
    <DesignRows {designs} bind:picked oncopy={(design) => go(designs.copy(design))} />
  {/if}
  {#if designs.deleted}
    {#await import("./Deleted.svelte") then panel}<panel.default {designs} />{/await}
  {/if}
  <Picked {designs} {sharing} bind:picked onbuy={() => (buying = true)} />
</section>
