<script lang="ts">
  /** The sensor in its leg, the resistor in the other. */
  import type { SensorShown } from "$api";
  import SupplyMark from "../kit/SupplyMark.svelte";
  import { Writing } from "../kit/writing.svelte";

  type Props = { shown: SensorShown };
  let { shown }: Props = $props();
  const drawing = $derived(shown.drawing);
  const box = $derived({ width: drawing.width + 44, height: drawing.height + 22 });
  const writing = new Writing(() => box);
</script>

<svg
  viewBox="-30 -10 {box.width} {box.height}"
  bind:contentRect={writing.seen}
  class="mt-3 max-h-56 w-full px-4"
  role="img"
  aria-label="Schematic of {shown.network}"
>
  <g stroke="currentColor" stroke-width="1.6" fill="none">
    {#each drawing.wires as wire, i (i)}<path d="M{wire.x1} {wire.y1}L{wire.x2} {wire.y2}" />{/each}
  </g>
  <SupplyMark {drawing} supply={shown.supply} at={(size) => writing.at(size)} />
  {#each [...drawing.parts, ...drawing.loads] as p (p.name)}
    <rect
      x={p.x - 9}
      y={p.y - 22}
      width="18"
      height="44"
      stroke="currentColor"
      stroke-width="1.6"
      class={p.name === "RS1" ? "fill-wash" : "fill-leaf"}
      stroke-dasharray={drawing.loads.includes(p) ? "4 3" : undefined}
    />
    {#if p.name === "RS1"}
      <path
        d="M{p.x - 17} {p.y + 20}L{p.x + 15} {p.y - 20}h6"
        fill="none"
        class="stroke-copper"
        stroke-width="1.6"
      />
    {/if}
    <text x={p.x + 24} y={p.y + 4} font-size={writing.at(13)} class="fill-ink"
      >{p.name === "RS1" ? "sensor" : p.name}
      <tspan font-weight="600">{shown.values[p.name]?.text} {shown.values[p.name]?.unit}</tspan
      ></text
    >
  {/each}
</svg>
