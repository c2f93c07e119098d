<script lang="ts">
  import type { ChoiceRow, ScaleAnswer } from "$api";

  type Props = { scale: ScaleAnswer; row: ChoiceRow };
  let { scale, row }: Props = $props();

  const WIDTH = 240;
  const HEIGHT = 28;
  /** Deviations beyond the scale are drawn at its end. */
  const at = (deviation: number) =>
    (WIDTH * (Math.min(Math.max(deviation, -scale.reach), scale.reach) + scale.reach)) /
    (2 * scale.reach);
  const lines = $derived(
    row.marks.map((mark, i) => ({
      ...mark,
      y: ((i + 1) * HEIGHT) / (row.marks.length + 1),
      beyond: mark.error < -scale.reach ? -1 : mark.error > scale.reach ? 1 : 0,
    })),
  );
  const outside = $derived(
    row.marks.some((mark) => mark.lowest < -scale.reach || mark.highest > scale.reach),
  );
  const tint = $derived(row.spread > scale.within ? "text-fail" : "text-ink");
  const tick = $derived(row.marks.length > 1 ? 2.5 : 5);
</script>

<svg
  viewBox="0 0 {WIDTH} {HEIGHT}"
  class="{tint} h-7 w-full"
  preserveAspectRatio="none"
  role="img"
  aria-label="{row.off.text} {row.off.unit} nominal; spans {outside
    ? 'beyond the scale'
    : 'inside the scale'}"
>
  <rect
    x={at(-scale.within)}
    width={at(scale.within) - at(-scale.within)}
    y="1"
    height={HEIGHT - 2}
    fill="var(--window)"
  />
  <path d="M{at(0)} 1V{HEIGHT - 1}" class="line stroke-soft" stroke-dasharray="2 2" />
  {#each lines as mark (mark.name)}
    {#if mark.beyond < 0}
      <path d="M8 {mark.y - tick}L2 {mark.y}L8 {mark.y + tick}" class="line thick" />
    {:else if mark.beyond > 0}
      <path
        d="M{WIDTH - 8} {mark.y - tick}L{WIDTH - 2} {mark.y}L{WIDTH - 8} {mark.y + tick}"
        class="line thick"
      />
    {:else}
      <path d="M{at(mark.lowest)} {mark.y}H{at(mark.highest)}" class="line thick" />
      {#if mark.lowest >= -scale.reach}
        <path d="M{at(mark.lowest)} {mark.y - tick}V{mark.y + tick}" class="line thick" />
      {/if}
      {#if mark.highest <= scale.reach}
        <path d="M{at(mark.highest)} {mark.y - tick}V{mark.y + tick}" class="line thick" />
      {/if}
      <!-- The cap of a stroke that is not scaled stays round however wide the scale is drawn -->
      <path
        d="M{at(mark.error)} {mark.y}h0"
        class="line"
        stroke="currentColor"
        stroke-linecap="round"
        stroke-width={lines.length > 1 ? 5 : 7.5}
      />
    {/if}
  {/each}
</svg>

<style>
  .line {
    fill: none;
    vector-effect: non-scaling-stroke;
  }
  .thick {
    stroke: currentColor;
    stroke-width: 1.6;
  }
</style>
