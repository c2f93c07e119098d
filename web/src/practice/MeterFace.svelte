<script lang="ts">
  /** The meter to be set, and what it has shown. */
  import type { BoardState } from "./board.svelte";
  import type { PracticeState } from "./practice.svelte";

  type Props = { practice: PracticeState; board: BoardState; onmeasure: () => void };
  let { practice, board, onmeasure }: Props = $props();
  const question = $derived(practice.question);
  const point = $derived(board.point);
  const last = $derived(practice.readings.at(-1) ?? null);
  const blown = $derived(practice.blown.includes(board.jack));
</script>

{#if question && point}
  <div class="flex flex-col">
    <div class="border-crease bg-leaf rounded-box border px-3 pt-2 pb-2" data-meter-face>
      <div class="flex items-baseline gap-3 text-note">
        <span class="text-copper text-read font-semibold">{board.letter}</span>
        <span class="truncate" title={point.words}>{point.words}</span>
        <span class="text-soft ml-auto whitespace-nowrap">effort so far {practice.spent}</span>
      </div>
      <p
        class="text-right text-[30px] leading-10 font-semibold {last?.tells === false
          ? 'text-fail'
          : ''}"
        aria-live="polite"
        data-display
      >
        {last?.shows ?? "—"}
      </p>
      <p class="min-h-9 text-note leading-snug" aria-live="polite" data-happened>
        {#if practice.objection}<span class="text-fail">✕ {practice.objection}</span>
        {:else if last?.told}<span class={last.tells ? "text-marginal" : "text-fail"}
            >{last.tells ? "◐" : "✕"} {last.told}</span
          >
          {#if last.fuse_blown}<span class="text-soft"
              >On a real bench a jack without a fuse burns: move the lead back first.</span
            >{/if}
        {:else if last}<span class="text-soft">at {last.where}</span>
        {:else}<span class="text-soft">Put the leads somewhere and measure.</span>{/if}
      </p>
      <div class="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 text-note">
        <span class="flex items-center gap-1" role="group" aria-label="Where the red lead is"
          ><kbd class="kbd kbd-xs">j</kbd>
          {#each question.jacks ?? [] as jack (jack)}
            <button
              type="button"
              class="rounded-field cursor-pointer border px-1.5 py-0.5 {board.jack === jack
                ? 'border-copper bg-wash font-semibold'
                : 'border-crease text-soft'}"
              aria-pressed={board.jack === jack}
              onclick={() => (board.jack = jack)}
              >{jack}{practice.blown.includes(jack) ? " ✕" : ""}</button
            >
          {/each}</span
        >
        <span class="flex items-center gap-1"
          ><kbd class="kbd kbd-xs">[</kbd>
          <button
            type="button"
            class="min-w-16 cursor-pointer text-center"
            title="the next range"
            onclick={() => board.turn(1)}
            >{board.rangeShown === "auto" ? "own range" : board.rangeShown}</button
          ><kbd class="kbd kbd-xs">]</kbd></span
        >
        {#if blown}
          <label class="text-fail flex items-center gap-1"
            ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={board.newFuse} /> put in
            a new fuse (effort 5)</label
          >
        {/if}
      </div>
    </div>
    <button
      type="button"
      class="btn btn-primary mt-2 h-10"
      disabled={practice.busy}
      onclick={onmeasure}
      >Measure, effort {point.effort}
      <kbd class="kbd kbd-xs text-base-content">Enter</kbd></button
    >
  </div>
{/if}
