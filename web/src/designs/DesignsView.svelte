<script lang="ts">
  import { push } from "svelte-spa-router";
  import { onDestroy, onMount } from "svelte";

  import type { Design } from "$api";
  import Notice from "../shell/Notice.svelte";
  import { status } from "../shell/status.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import { KIND_WORDS } from "../sheet/sentences";
  import { DesignsState } from "./designs.svelte";
  import Sharing from "./Sharing.svelte";
  import { SharingState } from "./sharing.svelte";

  const designs = new DesignsState();
  const sharing = new SharingState();
  let picked = $state<number[]>([]);
  const KINDS = Object.entries(KIND_WORDS) as [Design["kind"], string][];

  onMount(() => {
    void designs.load().then(() => {
      status.kept = "";
      status.trouble = false;
    });
  });

  onDestroy(() => {
    sharing.close();
    designs.close();
  });

  async function begin(kind: Design["kind"]) {
    const id = await designs.begin(kind);
    if (id) await push(`/designs/${id}`);
  }

  function walk(event: KeyboardEvent) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!step) return;
    const links = [...document.querySelectorAll<HTMLElement>("[data-design]")];
    const here = links.indexOf(document.activeElement as HTMLElement);
    const next = here < 0 ? (step > 0 ? 0 : links.length - 1) : here + step;
    links[Math.min(Math.max(next, 0), links.length - 1)]?.focus();
    event.preventDefault();
  }

  const when = (design: Design) =>
    new Date(design.updated).toLocaleString([], { dateStyle: "medium", timeStyle: "short" });
</script>

<svelte:window onkeydown={walk} />

<section class="mx-auto h-full max-w-6xl overflow-y-auto px-8 py-6">
  <div class="mb-5 flex items-baseline gap-4">
    <h1 class="font-serif text-figure font-semibold">Designs</h1>
    <label class="flex items-baseline gap-2">
      <span class="text-soft">find</span>
      <input
        type="search"
        class="input input-sm w-44"
        maxlength="200"
        value={designs.words}
        oninput={(e) => designs.find(e.currentTarget.value)}
      />
    </label>
    <p class="text-soft" role="status">
      {#if designs.waiting > 0}{designs.waiting} being worked out{/if}
    </p>
    <div class="ml-auto flex items-center gap-2">
      <span class="text-soft">New:</span>
      {#each KINDS as [kind, words] (kind)}
        <button type="button" class="btn btn-sm" onclick={() => begin(kind)}>{words}</button>
      {/each}
    </div>
  </div>

  {#if designs.trouble}
    <Notice tone="wrong">
      <span class="text-fail">✕ {designs.trouble}</span>
      <button type="button" class="btn btn-xs" onclick={() => designs.load()}>Try again</button>
    </Notice>
  {/if}
  {#if designs.removed}
    <Notice tone="done">
      <span>“{designs.removed.name}” is deleted.</span>
      <button type="button" class="btn btn-xs" onclick={() => designs.putBack()}>Put it back</button
      >
    </Notice>
  {/if}

  <Sharing
    {sharing}
    ontaken={() => {
      picked = [];
      void designs.load();
    }}
  />
  {#if designs.rows === null}
    <p class="text-soft" role="status">{designs.trouble ? "" : "Reading the designs…"}</p>
  {:else if designs.rows.length === 0 && designs.words.trim()}
    <p class="text-soft border-crease border-t py-10 text-center">
      No design has “{designs.words.trim()}” in its name, need, choice or reason.
    </p>
  {:else if designs.rows.length === 0}
    <p class="text-soft border-crease border-t py-10 text-center">
      Nothing here yet. Start with a resistance nobody makes, or a voltage below the one at hand.
    </p>
  {:else}
    <table class="w-full border-collapse">
      <thead>
        <tr class="border-crease border-b text-left [&>th]:py-2 [&>th]:pr-4">
          <th class="w-6"><span class="sr-only">pick</span></th>
          <th class="label-small">design</th>
          <th class="label-small">need</th>
          <th class="label-small text-right">gives</th>
          <th class="label-small pl-4">stands</th>
          <th class="label-small">changed</th>
          <th><span class="sr-only">delete</span></th>
        </tr>
      </thead>
      <tbody>
        {#each designs.rows as design (design.id)}
          <tr class="border-crease hover:bg-wash border-b align-baseline [&>td]:py-2 [&>td]:pr-4">
            <td>
              <input
                type="checkbox"
                class="checkbox checkbox-xs align-middle"
                aria-label="Pick {design.name}"
                value={design.id}
                disabled={design.kind === "network"}
                bind:group={picked}
              />
            </td>
            <td class="min-w-52">
              <a
                href="#/designs/{design.id}"
                data-design={design.id}
                class="font-serif text-read font-semibold hover:underline"
                >{design.name || "Untitled"}</a
              >
              <span class="text-soft block text-note">{design.kind}</span>
            </td>
            <td class="whitespace-nowrap">{design.standing?.need ?? ""}</td>
            <td class="text-right font-semibold whitespace-nowrap"
              >{design.standing?.figure ?? ""}</td
            >
            <td class="pl-4">
              {#if design.standing === null}
                <VerdictMark verdict={null} word="not worked out yet" />
              {:else}
                {#if design.kind !== "network" || design.standing.verdict}
                  <VerdictMark verdict={design.standing.verdict} />
                {/if}
                <span class="text-soft ml-1">{design.standing.words}</span>
              {/if}
              {#if Object.keys(design.standing?.gates ?? {}).length > 0}
                <span class="flex gap-3 text-note">
                  {#each Object.entries(design.standing?.gates ?? {}) as [name, verdict] (name)}
                    <span class="text-soft">{name} <VerdictMark {verdict} bare /></span>
                  {/each}
                </span>
              {/if}
            </td>
            <td class="text-soft whitespace-nowrap">{when(design)}</td>
            <td class="text-right">
              <button
                type="button"
                class="text-soft hover:text-fail cursor-pointer"
                aria-label="Delete {design.name}"
                onclick={() => designs.remove(design)}>✕</button
              >
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
  {#if designs.rows && designs.rows.length < designs.total}
    <div class="mt-4 flex items-center gap-3">
      {#if designs.rows.length < 500}
        <button type="button" class="btn btn-sm" onclick={() => designs.more()}>Show more</button>
      {/if}
      <span class="text-soft text-note">
        {designs.rows.length} of {designs.total} designs, those changed last first; find the others by
        a word
      </span>
    </div>
  {/if}
  {#if (designs.rows?.length ?? 0) > 1}
    <div class="mt-4 flex items-center gap-3">
      <button
        type="button"
        class="btn btn-sm"
        disabled={picked.length < 2 || sharing.job?.state === "running"}
        onclick={() => sharing.start([...picked])}>Share values</button
      >
      <span class="text-soft text-note">
        {picked.length < 2
          ? "pick designs: a choice for each, out of as few different values as possible"
          : `${picked.length} designs picked`}
      </span>
    </div>
  {/if}
  <p class="text-soft mt-4 text-note">
    Results are design aids: the data sheet, the local code and a qualified person decide.
  </p>
</section>
