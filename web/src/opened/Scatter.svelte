<script lang="ts">
  import { scaleLinear } from "d3-scale";

  import type { ScatterPicture } from "$api";
  import Axes from "../kit/Axes.svelte";

  type Props = { picture: ScatterPicture };
  let { picture }: Props = $props();

  const WIDTH = 620;
  const HEIGHT = 150;
  const BASE = HEIGHT - 24;
  const reach = $derived(
    1.08 * Math.max(picture.within, Math.abs(picture.lowest), Math.abs(picture.highest)),
  );
  const x = $derived(scaleLinear([-reach, reach], [28, WIDTH - 28]));
  const y = $derived(scaleLinear([0, Math.max(...picture.counts)], [BASE, 12]));
  const percent = (value: number) =>
    `${value > 0 ? "+" : value < 0 ? "−" : ""}${+Math.abs(100 * value).toPrecision(3)} %`;
</script>

<figure class="wide-table">
  <svg
    viewBox="0 0 {WIDTH} {HEIGHT}"
    class="w-full min-w-[530px] text-note"
    role="img"
    aria-label="{picture.name || 'Resistance'}: {picture.words} Worst corners at {percent(
      picture.lowest,
    )} and {percent(picture.highest)}."
  >
    <rect
      x={x(-picture.within)}
      width={x(picture.within) - x(-picture.within)}
      y="6"
      height={BASE - 6}
      fill="var(--window)"
    />
    {#each picture.counts as count, i (i)}
      {@const [left, right] = [picture.edges[i] ?? 0, picture.edges[i + 1] ?? 0]}
      <rect
        x={x(left)}
        width={Math.max(x(right) - x(left) - 0.6, 0.4)}
        y={y(count)}
        height={BASE - y(count)}
        class="fill-ink"
        opacity="0.75"
      />
    {/each}
    {#each [picture.lowest, picture.highest] as corner (corner)}
      <path
        d="M{x(corner)} 6V{BASE}"
        stroke-width="1.6"
        class={Math.abs(corner) > picture.within ? "stroke-fail" : "stroke-copper"}
      />
    {/each}
    <Axes
      x={{ scale: x, ticks: x.ticks(7), write: percent, name: "" }}
      frame={{ left: 8, right: WIDTH - 8, top: 6, base: BASE }}
    />
  </svg>
  <figcaption class="text-soft text-note">
    {picture.name ? `${picture.name}: ` : ""}{picture.words} Lines are the worst corners, the ground behind
    is what is allowed.
  </figcaption>
</figure>
