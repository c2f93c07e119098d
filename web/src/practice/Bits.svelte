<script lang="ts">
  /** What was not known yet, reading by reading: the way taken against a short one. */
  import type { BitsLine } from "$api";

  type Props = { taken: BitsLine[]; short: BitsLine[] };
  let { taken, short }: Props = $props();

  const WIDTH = 330;
  const HEIGHT = 120;
  const most = $derived(Math.max(1, ...[...taken, ...short].map((l) => l.bits_left)));
  const effort = $derived(Math.max(1, taken.at(-1)?.effort ?? 0, short.at(-1)?.effort ?? 0));
  const x = (e: number) => 34 + (e * (WIDTH - 46)) / effort;
  const y = (bits: number) => 10 + (HEIGHT - 38) * (1 - bits / most);
  /** A staircase: what is known changes when a reading is there. */
  const stairs = (lines: BitsLine[]) =>
    lines
      .map((l, k) => (k === 0 ? `M${x(0)} ${y(l.bits_left)}` : `H${x(l.effort)}V${y(l.bits_left)}`))
      .join("");
  const ticks = $derived([0, Math.ceil(most / 2), Math.ceil(most)].filter((t) => t <= most + 0.01));
</script>

<figure class="wide-table" data-bits>
  <svg
    viewBox="0 0 {WIDTH} {HEIGHT}"
    class="w-full max-w-md min-w-[335px]"
    role="img"
    aria-label="Bits not known yet against effort"
  >
    {#each ticks as tick (tick)}
      <path d="M34 {y(tick)}H{WIDTH - 12}" class="stroke-crease" />
      <text x="29" y={y(tick) + 4} text-anchor="end" font-size="11" class="fill-soft">{tick}</text>
    {/each}
    <path
      d={stairs(short)}
      fill="none"
      class="stroke-ink"
      stroke-width="1.6"
      stroke-dasharray="5 3"
    />
    <path d={stairs(taken)} fill="none" class="stroke-copper" stroke-width="2.4" />
    {#each taken as l, k (k)}
      <circle cx={x(l.effort)} cy={y(l.bits_left)} r="3.4" class="fill-copper" />
    {/each}
    <text x={WIDTH - 12} y={HEIGHT - 4} text-anchor="end" font-size="11" class="fill-soft"
      >effort {effort}</text
    >
    <text x="34" y={HEIGHT - 4} font-size="11" class="fill-soft">bits not known yet</text>
  </svg>
  <figcaption class="text-soft text-note">
    <svg viewBox="0 0 26 6" width="26" height="6" class="inline" aria-hidden="true"
      ><path d="M0 3H26" class="stroke-copper" stroke-width="2.4" /></svg
    >
    your way ·
    <svg viewBox="0 0 26 6" width="26" height="6" class="inline" aria-hidden="true"
      ><path d="M0 3H26" class="stroke-ink" stroke-width="1.6" stroke-dasharray="5 3" /></svg
    >
    a short way. Each step down is what a reading told.
  </figcaption>
</figure>
