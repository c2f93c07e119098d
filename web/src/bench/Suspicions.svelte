<script lang="ts">
  /** What may be wrong, how probable it is and why; and which reading would tell most. */
  import type { HypothesisAnswer } from "$api";
  import type { BenchState } from "./bench.svelte";
  import Course from "./Course.svelte";
  import PriorsTable from "./PriorsTable.svelte";

  type Props = { bench: BenchState };
  let { bench }: Props = $props();

  const found = $derived(bench.suspects.diagnosis);
  const percent = (p: number) =>
    p >= 0.995 ? "> 99 %" : p < 0.005 ? "< 1 %" : `${Math.round(100 * p)} %`;
  const tied = $derived(
    new Set(
      (found?.hypotheses ?? [])
        .map((h) => h.alike)
        .filter((label, i, every) => every.indexOf(label) !== i),
    ),
  );
  /** Those that matter: the likely ones, and at least three. */
  const shown = $derived((found?.hypotheses ?? []).filter((h, i) => i < 3 || h.probability > 0.01));
  const advised = $derived(bench.advised);
  const mendable = (h: HypothesisAnswer) =>
    !["as designed", "something else", "meter"].includes(h.kind);
</script>

<section
  class="border-crease mt-4 border-t pt-2"
  aria-labelledby="suspicions-title"
  data-suspicions
>
  <div class="flex items-baseline gap-3">
    <h3 id="suspicions-title" class="label-small">What may be wrong</h3>
    {#if bench.suspects.looking}<span
        class="loading loading-dots loading-xs"
        role="status"
        aria-label="looking"
      ></span>{/if}
    <label class="ml-auto flex items-center gap-2 text-note">
      <input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={bench.suspects.two}
        onchange={(event) => bench.lookForTwo(event.currentTarget.checked)}
      />
      two faults at once
    </label>
  </div>
  {#if found}
    <p class="mt-1 text-read font-semibold" aria-live="polite" data-verdict>{found.verdict}.</p>
    <p class="text-soft min-h-5 text-note" data-changed>
      {found.changed ? `Changed: ${found.changed}.` : ""}
    </p>
    <ul class="mt-1" aria-label="Hypotheses, likeliest first">
      {#each shown as h, i (h.name)}
        {@const here = i === bench.suspects.place}
        <li>
          <button
            type="button"
            aria-pressed={here}
            class="border-crease grid min-h-10 w-full cursor-pointer grid-cols-[4rem_6rem_minmax(0,1fr)] items-center gap-3 max-sm:grid-cols-[3.4rem_3rem_minmax(0,1fr)] max-sm:gap-2 border-b py-1 text-left {here
              ? 'bg-wash'
              : 'hover:bg-wash'}"
            data-hypothesis={h.kind}
            onclick={() => (bench.suspects.place = i)}
          >
            <strong class="text-right">{percent(h.probability)}</strong>
            <svg
              viewBox="0 0 100 8"
              preserveAspectRatio="none"
              class="h-2 w-full"
              aria-hidden="true"
            >
              <rect width="100" height="8" class="fill-crease" />
              <rect width={100 * h.probability} height="8" class="fill-copper" />
            </svg>
            <span class="leading-snug">
              <span class="font-semibold">{h.name}</span>
              {#if tied.has(h.alike)}<span class="text-soft text-note">· group {h.alike}</span>{/if}
              {#if h.kind !== "something else" && h.kind !== "meter" && !h.consistent}
                <span class="text-soft text-note"
                  >· no values inside every limit give all of it</span
                >
              {/if}
            </span>
          </button>
          {#if here}
            <p
              class="text-soft border-copper border-l-2 py-1 pl-3 text-note leading-snug"
              data-argument
            >
              {h.words}
              {#if mendable(h)}
                <button type="button" class="btn btn-xs ml-2" onclick={() => bench.mend(h)}
                  >It was this: mended</button
                >
              {/if}
            </p>
          {/if}
        </li>
      {/each}
    </ul>
    {#if found.apart && tied.size > 0}<p class="text-soft mt-1.5 text-note">{found.apart}.</p>{/if}
    {#if advised}
      <div class="border-copper mt-3 border-l-4 py-1 pl-3" data-advice>
        <p class="text-read">
          <span class="text-soft">Measure next</span> <strong>{advised.words}</strong>
          <span class="text-soft text-note">{advised.reason}</span>
          <button type="button" class="btn btn-sm ml-2" onclick={() => bench.follow(advised)}
            >Put the leads there <kbd class="kbd kbd-xs">f</kbd></button
          >
        </p>
        <ul class="mt-1 text-note">
          {#each advised.outcomes as outcome (outcome.shows + outcome.then)}
            <li>
              <strong>{outcome.shows}</strong> <span class="text-soft">→ {outcome.then}</span>
            </li>
          {/each}
        </ul>
        {#if bench.offered}
          {@const other = bench.offered}
          <p class="mt-1.5 text-note" data-offered>
            <span class="text-soft">With the power off it would tell more:</span>
            <strong>{other.words}</strong> <span class="text-soft">{other.reason}</span>
            <button type="button" class="btn btn-xs ml-2" onclick={() => bench.follow(other)}
              >Go there</button
            >
          </p>
        {/if}
      </div>
    {:else if !bench.suspects.looking}
      <p class="text-soft mt-2">No further reading would tell more.</p>
    {/if}
    <Course {found} />
    <details class="text-soft mt-2 text-note leading-snug">
      <summary class="cursor-pointer">How it is weighed</summary>
      <p class="max-w-prose">{found.method}</p>
      <PriorsTable onkept={() => bench.weighAgain()} />
    </details>
  {:else if !bench.suspects.looking}<p class="text-soft mt-1">Nothing is suspected yet.</p>{/if}
</section>
