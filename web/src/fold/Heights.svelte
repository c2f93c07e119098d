<script lang="ts">
  import { Writing } from "../kit/writing.svelte";
  /** The network by its potentials: wires are level, parts are falls; what lies between two levels falls alike. */
  import type { Figure, HeightsAnswer } from "$api";

  type Props = { heights: HeightsAnswer; lit: string[]; letter: string };
  let { heights, lit, letter }: Props = $props();

  const TALL = 330;
  const COLUMN = 46;
  const LABELS = 104;
  const wide = $derived(Math.max(heights.columns, 2) * COLUMN);
  const y = (height: number) => 14 + (1 - height) * TALL;
  const x = (column: number) => LABELS + 24 + column * COLUMN;
  const text = (figure: Figure) => `${figure.text} ${figure.unit}`;
  const room = (fall: { upper: number; lower: number }) => (fall.upper - fall.lower) * TALL;
  /** What the picture says, for who does not see it. */
  const words = $derived(
    heights.falls
      .map(
        (fall) =>
          `${fall.ref} falls ${text(fall.volts)}${fall.shared.length ? `, with ${fall.shared.join(", ")}` : ""}`,
      )
      .join("; "),
  );
  const writing = new Writing(() => ({ width: LABELS + wide + 40, height: TALL + 32 }));
</script>

<figure class="flex h-full min-h-0 flex-col">
  <svg
    viewBox="0 0 {LABELS + wide + 40} {TALL + 32}"
    class="min-h-0 w-full flex-1"
    bind:contentRect={writing.seen}
    role="img"
    aria-label="Potentials as heights. {words}"
  >
    {#each heights.levels as level (level.name)}
      <path
        d="M{LABELS - 4} {y(level.label)}L{LABELS + 8} {y(level.height)}H{x(level.start)}"
        class="stroke-crease"
        fill="none"
        stroke-width="1"
      />
      <path
        d="M{x(level.start) - 10} {y(level.height)}H{x(level.stop) + 10}"
        class="stroke-ink"
        stroke-width="2.2"
        stroke-linecap="round"
      />
      <text
        x={LABELS - 8}
        y={y(level.label) + 4}
        text-anchor="end"
        font-size={writing.at(12.5)}
        class="fill-ink">{level.name} <tspan font-weight="600">{text(level.volts)}</tspan></text
      >
    {/each}
    {#each heights.falls as fall (fall.ref)}
      {@const hot = lit.includes(fall.ref)}
      <g class={hot ? "text-copper" : "text-soft"}>
        <path
          d="M{x(fall.column)} {y(fall.upper)}V{y(fall.lower)}"
          stroke="currentColor"
          stroke-width={hot ? 9 : 6}
          stroke-opacity={hot ? 0.55 : 0.35}
        />
        {#if room(fall) > 12}
          <path
            d="M{x(fall.column) - 5} {y(fall.lower) - 8}L{x(fall.column)} {y(fall.lower) - 2}L{x(
              fall.column,
            ) + 5} {y(fall.lower) - 8}"
            fill="none"
            stroke="currentColor"
            stroke-width="1.6"
          />
        {/if}
        <text
          transform={room(fall) > 74
            ? `translate(${x(fall.column) + 15} ${(y(fall.upper) + y(fall.lower)) / 2}) rotate(-90)`
            : `translate(${x(fall.column)} ${y(fall.lower) + 13})`}
          text-anchor="middle"
          font-size={writing.at(11.5)}
          class={hot ? "fill-copper" : "fill-ink"}
          >{fall.ref}{#if room(fall) > 74}<tspan class="fill-soft">
              &nbsp;{text(fall.volts)}</tspan
            >{/if}</text
        >
      </g>
    {/each}
  </svg>
  <figcaption class="text-soft text-note leading-snug">
    Each wire is level, each part a fall of {letter}: whichever way one goes down, the falls add up
    to the supply; parts between the same two levels share theirs.
  </figcaption>
</figure>
