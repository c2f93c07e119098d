<script lang="ts">
  /** The axes of a plot: lines, ticks and names about a frame; drawn over what is plotted. */
  type Axis = {
    scale: (value: number) => number;
    ticks: number[];
    /** A tick in words; one that has none is left out. */
    write: (tick: number) => string;
    name: string;
  };
  type Props = {
    x: Axis;
    y?: Axis;
    frame: { left: number; right: number; top: number; base: number };
  };
  let { x, y, frame }: Props = $props();
</script>

<path
  d={y
    ? `M${frame.left} ${frame.top}V${frame.base}H${frame.right}`
    : `M${frame.left} ${frame.base}H${frame.right}`}
  class="stroke-soft fill-none"
/>
{#if y}
  {#each y.ticks as tick (tick)}
    <path d="M{frame.left} {y.scale(tick)}h-4" class="stroke-soft" />
    <text x={frame.left - 8} y={y.scale(tick) + 4} text-anchor="end" class="fill-soft"
      >{y.write(tick)}</text
    >
  {/each}
  <text x={frame.left + 6} y={frame.top + 10} class="fill-ink">{y.name}</text>
{/if}
{#each x.ticks.filter(x.write) as tick (tick)}
  <path d="M{x.scale(tick)} {frame.base}v4" class="stroke-soft" />
  <text x={x.scale(tick)} y={frame.base + 17} text-anchor="middle" class="fill-soft"
    >{x.write(tick)}</text
  >
{/each}
{#if x.name}
  <text x={frame.right} y={frame.base + 34} text-anchor="end" class="fill-ink">{x.name}</text>
{/if}
