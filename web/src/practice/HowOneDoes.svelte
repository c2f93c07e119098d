<script lang="ts">
  /** What was right and what was not, by week and one by one: figures, no more. */
  import type { PracticeState } from "./practice.svelte";

  type Props = { practice: PracticeState };
  let { practice }: Props = $props();
  const drill = $derived(practice.drill);
  const weeks = $derived(
    (practice.progress?.weeks ?? []).filter((w) => w.drill === drill).slice(-12),
  );
  const last = $derived((practice.progress?.last ?? []).filter((l) => l.drill === drill));
  const most = $derived(Math.max(5, ...weeks.map((w) => w.answered)));
  const line = $derived(practice.line);
  const percent = (share: number) => `${Math.round(100 * share)} %`;
</script>

<div
  class="border-crease flex min-h-[74px] shrink-0 flex-wrap items-center gap-x-6 gap-y-2 border-t px-5 text-note max-sm:py-2"
  data-progress
>
  {#if last.length === 0}
    <p class="text-soft">
      Nothing answered here yet. What is answered wrong comes again sooner; four right of five lead
      on a level.
    </p>
  {:else}
    <div>
      <p class="text-soft">last answers, level below</p>
      <p class="flex gap-1 leading-tight" aria-label="The last answers, oldest first">
        {#each last as one (one.at)}
          <span class="text-center {one.right ? 'text-pass' : 'text-fail'}"
            >{one.right ? "●" : "✕"}<span class="sr-only"
              >{one.right ? "right" : "wrong"}, level</span
            ><br /><span class="text-soft">{one.level}</span></span
          >
        {/each}
      </p>
    </div>
    {#if line && line.answered > 0}
      <p>
        <span class="text-soft">level {line.level}:</span>
        {line.right} of {line.answered} right{#if line.typical_off !== null}, typically {percent(
            line.typical_off,
          )} off{/if}
      </p>
    {/if}
    <figure class="ml-auto flex items-end gap-3 max-sm:ml-0 max-sm:flex-wrap">
      <svg
        viewBox="0 0 {12 * 16} 44"
        width={12 * 16}
        height="44"
        role="img"
        aria-label="By week: {weeks
          .map((w) => `from ${w.week} ${w.right} of ${w.answered} right`)
          .join('; ')}"
      >
        <path d="M0 43H{12 * 16}" class="stroke-crease" />
        {#each weeks as week, k (week.week)}
          {@const x = (12 - weeks.length + k) * 16}
          {@const whole = (week.answered / most) * 38}
          {@const right = (week.right / most) * 38}
          <rect {x} y={43 - whole} width="11" height={whole} class="stroke-soft" fill="none" />
          <rect {x} y={43 - right} width="11" height={right} class="fill-copper" />
        {/each}
      </svg>
      <figcaption class="text-soft max-w-36 leading-tight">
        weeks: filled is right, of what was answered
      </figcaption>
    </figure>
  {/if}
</div>
