<script lang="ts">
  /** What drives a drawing: one supply, two terminals at voltages of their own, or open ends. */
  import type { Drawing } from "$api";

  type Props = {
    drawing: Drawing;
    /** What is written in the supply's symbol, or at the upper terminal. */
    supply: string;
    /** What the other end lies at; empty where that is 0 V. */
    low?: string;
    hot?: boolean;
    /** What a size of writing is set in. */
    at?: (size: number) => number;
    width?: number;
  };
  let {
    drawing,
    supply,
    low = "",
    hot = false,
    width = 1.6,
    at = (size) => size,
  }: Props = $props();

  const BARS = [9, 5.5, 2];
  const words = (name: string) => (drawing.grounds.length ? (name === "0" ? low : supply) : "");
</script>

{#if drawing.supply}
  <circle
    cx={drawing.supply.x}
    cy={drawing.supply.y}
    r="24"
    class={hot ? "fill-wash stroke-copper" : "fill-leaf"}
    stroke="currentColor"
    stroke-width={hot ? 3 : width}
  />
  <text
    x={drawing.supply.x}
    y={drawing.supply.y + 4}
    text-anchor="middle"
    font-size={at(12)}
    class="fill-ink">{supply}</text
  >
{/if}
{#each drawing.ends as end (end.name)}
  <circle
    cx={end.x}
    cy={end.y}
    r="4"
    class="fill-leaf"
    stroke="currentColor"
    stroke-width={width}
  />
  {#if words(end.name)}
    <text
      x={end.x + 7}
      y={end.y + (end.name === "0" ? -7 : 16)}
      font-size={at(12.5)}
      font-weight="600"
      class="fill-ink">{words(end.name)}</text
    >
  {/if}
{/each}
{#each drawing.grounds as mark, i (i)}
  <path
    d={BARS.map((reach, k) => `M${mark.x - reach} ${mark.y + 4 * k}h${2 * reach}`).join("")}
    fill="none"
    stroke="currentColor"
    stroke-width={width}
  />
  {#if mark.name}
    <path d="M{mark.x} {mark.y}v-10" fill="none" stroke="currentColor" stroke-width={width} />
    <text x={mark.x} y={mark.y + 26} text-anchor="middle" font-size={at(12)} class="fill-soft"
      >{mark.name}</text
    >
  {/if}
{/each}
