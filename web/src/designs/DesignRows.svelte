<script lang="ts">
  /** The list itself: only what is to be seen of it is on the page. */
  import { createVirtualizer } from "@tanstack/svelte-virtual";
  import { tick, untrack } from "svelte";
  import { MediaQuery } from "svelte/reactivity";

  import type { Design } from "$api";
  import DesignRow from "./DesignRow.svelte";
  import type { DesignsState } from "./designs.svelte";

  type Props = { designs: DesignsState; picked: Design[]; oncopy: (design: Design) => void };
  let { designs, picked = $bindable(), oncopy }: Props = $props();

  /** On a telephone a row has a second line. */
  const narrow = new MediaQuery("max-width: 640px");
  const height = $derived(narrow.current ? 106 : 62);
  let scroller = $state<HTMLElement | null>(null);
  const virtual = createVirtualizer<HTMLElement, HTMLElement>({
    count: 0,
    getScrollElement: () => scroller,
    estimateSize: () => height,
    overscan: 8,
  });
  $effect(() => {
    void scroller; // there is none before the first drawing
    const [count, size] = [designs.total, height];
    // Setting them makes the list anew, which must not have them set again
    untrack(() => {
      $virtual.setOptions({ count, getScrollElement: () => scroller, estimateSize: () => size });
      $virtual.measure();
    });
  });
  const items = $derived($virtual.getVirtualItems());
  $effect(() => {
    const [first, last] = [items[0]?.index, items.at(-1)?.index];
    if (first !== undefined && last !== undefined) untrack(() => designs.see(first, last));
  });

  const here = $derived(new Set(picked.map((design) => design.id)));
  function pick(design: Design, on: boolean) {
    picked = on ? [...picked, design] : picked.filter((one) => one.id !== design.id);
  }

  function walk(event: KeyboardEvent) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const at = event.target as Element;
    if (!step || at.matches("select, textarea")) return;
    event.preventDefault();
    const row = document.activeElement?.closest<HTMLElement>("[data-place]");
    const from = wanted ?? (row ? Number(row.dataset.place) : null);
    const now = from !== null ? from + step : step > 0 ? 0 : designs.total - 1;
    const next = Math.min(Math.max(now, 0), designs.total - 1);
    $virtual.scrollToIndex(next);
    wanted = next;
  }
  /** The row that is walked to: it may have to be brought first. */
  let wanted = $state<number | null>(null);
  $effect(() => {
    const place = wanted;
    if (place === null || !designs.rows?.[place]) return;
    if (!items.some((item) => item.index === place)) return;
    void tick().then(() => {
      scroller?.querySelector<HTMLElement>(`[data-place="${place}"] [data-design]`)?.focus();
      if (wanted === place) wanted = null;
    });
  });
</script>

<svelte:window onkeydown={walk} />

<div class="columns label-small border-crease border-b py-1.5" aria-hidden="true">
  <span></span><span>design</span><span>need</span><span class="text-right">gives</span>
  <span>stands</span><span>changed</span><span></span>
</div>
<div class="min-h-24 flex-1 overflow-y-auto" bind:this={scroller} data-designs>
  <ul class="relative" style:height="{$virtual.getTotalSize()}px" aria-label="Designs">
    {#each items as item (item.index)}
      {@const design = designs.rows?.[item.index]}
      <li
        class="columns border-crease hover:bg-wash absolute inset-x-0 border-b"
        style:height="{height}px"
        style:transform="translateY({item.start}px)"
        data-place={item.index}
        aria-setsize={designs.total}
        aria-posinset={item.index + 1}
      >
        {#if design}
          <DesignRow
            {design}
            picked={here.has(design.id)}
            onpick={(on) => pick(design, on)}
            oncopy={() => oncopy(design)}
            onremove={() => designs.remove(design)}
          />
        {:else}<span></span><span class="text-soft">…</span>{/if}
      </li>
    {/each}
  </ul>
</div>

<style>
  .columns {
    display: grid;
    align-items: center;
    column-gap: 1rem;
    padding-right: 0.5rem;
    grid-template-columns:
      1.25rem minmax(11rem, 3fr) minmax(9rem, 3fr) minmax(6rem, 1.5fr) minmax(15rem, 5fr)
      7.5rem 4rem;
  }
  /* Beside another window the day of the last change gives way. */
  @media (max-width: 1000px) {
    .columns {
      column-gap: 0.6rem;
      grid-template-columns:
        1.25rem minmax(8rem, 3fr) minmax(6rem, 2.6fr) minmax(4rem, 1.4fr) minmax(11rem, 5fr)
        3.6rem;
    }
    .columns > :global(:nth-child(6)) {
      display: none;
    }
  }
  @media (max-width: 640px) {
    .columns {
      grid-template-columns: 1.25rem minmax(0, 1fr) auto;
      align-content: center;
      padding-right: 0;
    }
    .columns[aria-hidden] {
      display: none;
    }
    .columns > :global(:nth-child(3)) {
      grid-area: 2 / 2;
    }
    .columns > :global(:nth-child(4)) {
      grid-area: 2 / 3;
    }
    .columns > :global(:nth-child(5)) {
      grid-area: 3 / 2 / auto / span 2;
    }
    .columns > :global(:nth-child(7)) {
      grid-area: 1 / 3;
    }
  }
</style>
