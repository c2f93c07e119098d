<script lang="ts">
  /** A drawing that is looked at near or whole: the wheel, a drag, keys and three buttons. */
  import type { Snippet } from "svelte";

  import type { Area, View } from "./view.svelte";

  type Props = {
    view: View;
    whole: Area;
    label: string;
    children: Snippet;
  };
  let { view, whole, label, children }: Props = $props();

  /** What a drag does, without one. */
  const WAYS = [
    ["←", "To the left (Shift ←)", -0.2, 0],
    ["↑", "Up (Shift ↑)", 0, -0.2],
    ["↓", "Down (Shift ↓)", 0, 0.2],
    ["→", "To the right (Shift →)", 0.2, 0],
  ] as const;
  let svg = $state<SVGSVGElement>();
  let width = $state(0);
  let height = $state(0);
  let grabbed = $state<{ x: number; y: number } | null>(null);

  $effect.pre(() => {
    view.whole = whole;
    if (width && height) view.room = { width, height };
  });
  $effect(() => {
    const over = svg;
    if (!over) return;
    const wheel = (event: WheelEvent) => view.wheel(event, over);
    over.addEventListener("wheel", wheel, { passive: false });
    return () => over.removeEventListener("wheel", wheel);
  });

  function drag(event: PointerEvent) {
    if (!grabbed || !svg) return;
    const box = svg.getBoundingClientRect();
    view.move((grabbed.x - event.clientX) / box.width, (grabbed.y - event.clientY) / box.height);
    grabbed = { x: event.clientX, y: event.clientY };
  }
</script>

<svelte:window onpointermove={drag} onpointerup={() => (grabbed = null)} />

<div class="relative h-full w-full" bind:clientWidth={width} bind:clientHeight={height}>
  <svg
    bind:this={svg}
    viewBox={view.box}
    data-whole="{whole.x} {whole.y} {whole.width} {whole.height}"
    class="absolute inset-0 h-full w-full {view.near ? 'cursor-grab touch-none' : ''}"
    role="group"
    aria-label={label}
    onpointerdown={(event) => {
      if (view.near) grabbed = { x: event.clientX, y: event.clientY };
    }}
  >
    {@render children()}
  </svg>
  <div class="off-paper text-soft absolute right-0 bottom-0 flex gap-1 text-note">
    {#if view.near}
      {#each WAYS as [sign, words, right, down] (sign)}
        <button
          type="button"
          class="hover:text-copper bg-base-100/80 cursor-pointer"
          aria-label={words}
          onclick={() => view.move(right, down)}>{sign}</button
        >
      {/each}
    {/if}
    <button
      type="button"
      class="hover:text-copper bg-base-100/80 cursor-pointer px-1.5"
      aria-label="Further off (Shift Z)"
      disabled={!view.near}
      onclick={() => view.nearer(1 / 1.25)}>−</button
    >
    <button
      type="button"
      class="hover:text-copper bg-base-100/80 cursor-pointer px-1"
      disabled={!view.near}
      title="All of it: 0"
      onclick={() => view.fit()}>{view.near ? `${Math.round(100 * view.zoom)} %` : "all"}</button
    >
    <button
      type="button"
      class="hover:text-copper bg-base-100/80 cursor-pointer px-1.5"
      aria-label="Nearer (z)"
      onclick={() => view.nearer(1.25)}>+</button
    >
  </div>
</div>
