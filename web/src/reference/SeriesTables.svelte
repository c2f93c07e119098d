<script lang="ts">
  import { onMount } from "svelte";

  import { findInSeries, type SeriesAnswer } from "$api";
  import { Latest } from "../shell/latest";

  let text = $state("4k7");
  let found = $state.raw<SeriesAnswer | null>(null);
  let wrong = $state("");
  const latest = new Latest();

  onMount(() => void look(text));

  async function look(value: string | number) {
    const answer = await latest.of(findInSeries({ ohm: value }));
    if (!answer) return;
    wrong = answer.error ? (answer.error.errors[0]?.message ?? answer.error.detail) : "";
    if (answer.data) found = answer.data;
  }

  function type(value: string) {
    text = value;
    if (value.trim()) void look(value);
  }

  /** Look at a value of a table, in the decade of the one looked for. */
  function point(shown: string) {
    if (found) void look(Number(`${shown}e${found.power}`));
  }

  /** Arrow keys walk a table. */
  function onkeydown(event: KeyboardEvent & { currentTarget: HTMLElement }) {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 12, ArrowUp: -12 }[event.key];
    if (!step) return;
    event.preventDefault();
    const cells = [...event.currentTarget.querySelectorAll<HTMLElement>("button")];
    const here = cells.indexOf(document.activeElement as HTMLElement);
    cells[Math.min(Math.max(here + step, 0), cells.length - 1)]?.focus();
  }
</script>

<div class="pt-4 pb-8">
  <div class="flex items-baseline gap-4">
    <label class="flex items-baseline gap-2"
      ><span class="text-soft">find</span>
      <input
        data-find
        class="text-copper border-copper w-32 border-b px-0.5 text-right font-semibold"
        aria-invalid={wrong !== ""}
        autocomplete="off"
        spellcheck="false"
        maxlength="40"
        value={text}
        oninput={(event) => type(event.currentTarget.value)}
      /></label
    >
    <p class="min-h-5" aria-live="polite">
      {#if wrong}<span class="text-fail text-note">✕ {wrong}</span>
      {:else if found}<strong>{found.shown}</strong>
        <span class="text-soft"
          >{found.series.some((row) => row.has)
            ? `is a value of ${found.series
                .filter((row) => row.has)
                .map((row) => row.name)
                .join(", ")}`
            : "is no standard value"}</span
        >{/if}
    </p>
  </div>
  {#if found}
    {#each found.series as row (row.name)}
      <section class="border-crease mt-3 border-t pt-2" aria-labelledby="series-{row.name}">
        <h2 class="flex items-baseline gap-4">
          <span id="series-{row.name}" class="w-11 font-semibold">{row.name}</span>
          <span class="text-soft w-36 text-note">{row.sold}</span>
          <span class="text-note">
            {#if row.has}
              <span class="text-soft">{row.below} ‹</span>
              <strong class="text-copper">● {row.nearest}</strong>
              <span class="text-soft">› {row.above}</span>
            {:else}
              <span class="text-soft">between {row.below} and {row.above}; nearest</span>
              <strong>{row.nearest}</strong> <span class="text-soft">{row.off}</span>
            {/if}
          </span>
        </h2>
        <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
        <div
          class="mt-1 grid grid-cols-12 text-right text-note"
          role="group"
          aria-label="One decade of {row.name}"
          {onkeydown}
          onmouseleave={() => text.trim() && look(text)}
        >
          {#each row.values as value, i (value)}
            {@const here = i === row.place}
            <button
              type="button"
              tabindex={here ? 0 : -1}
              class="hover:text-copper cursor-pointer rounded-field px-1.5 py-0.5 text-right {here
                ? row.has
                  ? 'bg-wash text-copper font-semibold'
                  : 'border-copper text-ink border-b border-dashed'
                : 'text-soft'}"
              aria-pressed={here && row.has}
              onclick={() => (text = found?.shown ?? text)}
              onmouseenter={() => point(value)}
              onfocus={() => point(value)}>{value}</button
            >
          {/each}
        </div>
      </section>
    {/each}
  {/if}
</div>
