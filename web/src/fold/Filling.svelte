<script lang="ts">
  /** The table of V, I, R and P as it fills on the way back, cell by cell, as it is done on paper. */
  import type { Carried, FoldAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import type { FoldState } from "./fold.svelte";

  type Props = { fold: FoldState; folded: FoldAnswer };
  let { fold, folded }: Props = $props();

  /** Step by step from the one resistance outward, as far as it is unfolded. */
  const taken = $derived(
    fold.steps
      .slice(fold.place)
      .toReversed()
      .flatMap((step) => step.unfolded),
  );
  const newest = $derived(new Set(fold.steps[fold.place]?.unfolded.map((row) => row.ref)));
  const filled = $derived<Carried[]>(folded.whole ? [folded.whole, ...taken] : []);
  const there = $derived(new Set(filled.map((row) => row.ref)));
  /** Parts that are not reached yet: only what is marked on them is known. */
  const waiting = $derived(folded.table.filter((row) => !there.has(row.ref)));
  const CELL = { V: "voltage", I: "current" } as const;
</script>

{#snippet cell(row: Carried, letter: "V" | "I")}
  {@const fresh = newest.has(row.ref) || (row === folded.whole && fold.place === fold.steps.length)}
  <td
    class={row.given === letter
      ? "decoration-crease underline underline-offset-4"
      : fresh
        ? "text-copper font-semibold"
        : ""}
    title={row.given === letter ? "known already" : "found by the rule"}
    ><FigureText figure={row[CELL[letter]]} /></td
  >
{/snippet}

<table class="w-full text-right text-note" data-filling>
  <thead>
    <tr class="text-soft border-crease border-b">
      <th class="py-1 text-left font-normal">part</th>
      <th class="font-normal">R</th><th class="font-normal">{fold.letter}</th>
      <th class="font-normal">I</th><th class="font-normal">P</th>
    </tr>
  </thead>
  <tbody>
    {#each filled as row (row.ref)}
      {@const made = !folded.table.some((part) => part.ref === row.ref)}
      <tr class="[&>td]:pt-1 {newest.has(row.ref) ? 'bg-wash' : ''}">
        <td class="text-left {made ? 'text-soft' : 'font-semibold'}">{row.ref}</td>
        <td><FigureText figure={row.resistance} /></td>
        {@render cell(row, "V")}
        {@render cell(row, "I")}
        <td><FigureText figure={row.power} /></td>
      </tr>
      <tr class="border-crease border-b {newest.has(row.ref) ? 'bg-wash' : ''}">
        <td colspan="5" class="text-soft pb-1 text-left text-note">
          {fold.say(row.rule)}, P = {fold.say("V")} · I
        </td>
      </tr>
    {/each}
    {#each waiting as row (row.ref)}
      <tr class="border-crease text-soft border-b [&>td]:py-1">
        <td class="text-left">{row.ref}</td>
        <td><FigureText figure={row.resistance} /></td>
        <td aria-label="not found yet">·</td>
        <td aria-label="not found yet">·</td>
        <td aria-label="not found yet">·</td>
      </tr>
    {/each}
  </tbody>
</table>
<p class="text-soft mt-2 text-note leading-snug">
  {#if filled.length === 0}
    Folding does not give the currents here: the figures come from the node equations.
  {:else if waiting.length > 0}
    Underlined is what was known, in copper what the rule gave; <kbd class="kbd kbd-xs">←</kbd> fills
    on.
  {:else}
    Filled: every part has its four figures.
  {/if}
</p>
