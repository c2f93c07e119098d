<script lang="ts">
  import type { ChoiceAnswer, ScaleAnswer } from "$api";

  type Props = { scale: ScaleAnswer; row: ChoiceAnswer };
  let { scale, row }: Props = $props();

  const WIDTH = 240;
  const HEIGHT = 28;
  const MIDDLE = HEIGHT / 2;
  const at = (value: number) =>
    (WIDTH * (Math.min(Math.max(value, scale.low), scale.high) - scale.low)) /
    (scale.high - scale.low);
  const outside = $derived(row.lowest < scale.low || row.highest > scale.high);
  const beyond = $derived(
    row.nominal < scale.low ? "below" : row.nominal > scale.high ? "above" : null,
  );
  const tint = $derived(
    row.lowest < scale.window_low || row.highest > scale.window_high ? "text-fail" : "text-ink",
  );
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
    x={at(scale.window_low)}
    width={at(scale.window_high) - at(scale.window_low)}
    y="1"
    height={HEIGHT - 2}
    fill="var(--window)"
  />
  <g stroke="currentColor" vector-effect="non-scaling-stroke" fill="none">
    <path
      d="M{at(scale.target)} 1V{HEIGHT - 1}"
      class="stroke-soft"
      stroke-dasharray="2 2"
      vector-effect="non-scaling-stroke"
    />
    {#if !beyond}
      <path
        d="M{at(row.lowest)} {MIDDLE}H{at(row.highest)}"
        stroke-width="1.6"
        vector-effect="non-scaling-stroke"
      />
      {#if row.lowest >= scale.low}
        <path
          d="M{at(row.lowest)} {MIDDLE - 5}V{MIDDLE + 5}"
          stroke-width="1.6"
          vector-effect="non-scaling-stroke"
        />
      {/if}
      {#if row.highest <= scale.high}
        <path
          d="M{at(row.highest)} {MIDDLE - 5}V{MIDDLE + 5}"
          stroke-width="1.6"
          vector-effect="non-scaling-stroke"
        />
      {/if}
    {/if}
  </g>
  {#if beyond === "below"}
    <path d="M8 {MIDDLE - 5}L2 {MIDDLE}L8 {MIDDLE + 5}" class="beyond" />
  {:else if beyond === "above"}
    <path
      d="M{WIDTH - 8} {MIDDLE - 5}L{WIDTH - 2} {MIDDLE}L{WIDTH - 8} {MIDDLE + 5}"
      class="beyond"
    />
  {:else}
    <ellipse cx={at(row.nominal)} cy={MIDDLE} rx="3.4" ry="3.6" fill="currentColor" />
  {/if}
</svg>

<style>
  .beyond {
    fill: none;
    stroke: currentColor;
    stroke-width: 1.6;
    vector-effect: non-scaling-stroke;
  }
</style>
