<script lang="ts">
  /** How each reading moved the probabilities: a line for each of the likeliest. */
  import type { DiagnoseAnswer } from "$api";

  type Props = { found: DiagnoseAnswer };
  let { found }: Props = $props();

  const STROKES = ["", "6 3", "2 3", "9 3 2 3"];
  const top = $derived(
    [...found.hypotheses].sort((a, b) => Math.max(...b.course) - Math.max(...a.course)).slice(0, 4),
  );
  const steps = $derived(Math.max((top[0]?.course.length ?? 1) - 1, 1));
  const x = (k: number) => 30 + (k * 250) / steps;
  const y = (p: number) => 74 - 64 * p;
</script>

{#if found.readings.length > 0}
  <figure class="mt-3 flex flex-wrap items-start gap-4" data-course>
    <svg
      viewBox="0 0 290 92"
      width="290"
      height="92"
      role="img"
      aria-label="Probability after each reading"
    >
      {#each [0, 0.5, 1] as level (level)}
        <path d="M30 {y(level)}H280" class="stroke-crease" />
        <text x="26" y={y(level) + 4} text-anchor="end" font-size="10" class="fill-soft"
          >{100 * level} %</text
        >
      {/each}
      {#each top as h, i (h.name)}
        <polyline
          points={h.course.map((p, k) => `${x(k)},${y(p)}`).join(" ")}
          fill="none"
          class={i === 0 ? "stroke-copper" : "stroke-ink"}
          stroke-width={i === 0 ? 2 : 1.2}
          stroke-dasharray={STROKES[i]}
        />
      {/each}
      {#each found.readings as reading, k (k)}
        <text x={x(k + 1)} y="88" text-anchor="middle" font-size="9" class="fill-soft"
          >{reading.part ?? reading.at ?? reading.through ?? reading.across}</text
        >
      {/each}
    </svg>
    <figcaption class="text-note">
      <p class="text-soft">What each reading did to</p>
      {#each top as h, i (h.name)}
        <p>
          <svg viewBox="0 0 26 6" width="26" height="6" class="inline" aria-hidden="true">
            <path
              d="M0 3H26"
              class={i === 0 ? "stroke-copper" : "stroke-ink"}
              stroke-width={i === 0 ? 2 : 1.2}
              stroke-dasharray={STROKES[i]}
            />
          </svg>
          {h.name.split(":")[0]}
        </p>
      {/each}
    </figcaption>
  </figure>
{/if}
