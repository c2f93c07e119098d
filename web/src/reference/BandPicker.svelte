<script lang="ts">
  /** A drawn part whose bands are picked: by key, or by a click on a colour. */
  import { BANDS, COLOURS, isColour } from "../marks/colours";
  import { COLOUR_KEYS, MOST_BANDS, type ReadingMarks } from "./marks.svelte";

  type Props = { reading: ReadingMarks };
  let { reading }: Props = $props();

  const X = [56, 84, 112, 140, 176, 208];
  const keyOf = Object.fromEntries(Object.entries(COLOUR_KEYS).map(([key, c]) => [c, key]));
  const words = $derived(reading.drawn.join(", ") || "no bands");

  function onkeydown(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const colour = COLOUR_KEYS[event.key.toLowerCase()];
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (colour) reading.pick(colour);
    else if (step) reading.stand(reading.at + step);
    else if (event.key === "Backspace") reading.drop();
    else if (event.key === "Delete") reading.clear();
    else return;
    event.preventDefault();
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="mt-2 inline-block rounded-box p-1"
  role="application"
  tabindex="0"
  data-bands
  aria-label="Bands: {words}. Digits pick a colour, g gold, s silver, p pink; arrows move, Backspace takes one off"
  {onkeydown}
>
  <svg viewBox="0 0 260 96" width="416" height="154" class="max-w-full">
    <path d="M0 40H30M230 40H260" class="stroke-soft" stroke-width="4" />
    <path
      d="M30 24Q30 14 42 14H66Q76 14 80 20H180Q184 14 194 14H218Q230 14 230 24V56Q230 66 218 66H194Q184 66 180 60H80Q76 66 66 66H42Q30 66 30 56Z"
      fill="#d9c7a3"
      class="stroke-ink"
      stroke-width="1.4"
    />
    {#each X as x, i (i)}
      {@const colour = reading.drawn[i]}
      {@const here = !reading.text.trim() && i === reading.at}
      <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
      <g class="cursor-pointer" onclick={() => reading.stand(i)}>
        <rect x={x - 12} y="8" width="24" height="84" fill="transparent" />
        {#if colour && isColour(colour)}
          <rect
            x={x - 7}
            y={i === 1 || i === 2 || i === 3 ? 20 : 14.8}
            width="14"
            height={i === 1 || i === 2 || i === 3 ? 40 : 50.4}
            fill={BANDS[colour].fill}
            stroke="#1b1b1b"
            stroke-width="0.6"
          />
          <text {x} y="82" text-anchor="middle" font-size="11" class="fill-ink"
            >{BANDS[colour].letters}</text
          >
        {:else}
          <rect
            x={x - 7}
            y="22"
            width="14"
            height="36"
            fill="none"
            stroke="#7d6b46"
            stroke-dasharray="3 3"
          />
        {/if}
        {#if here}<path d="M{x - 6} 90H{x + 6}" class="stroke-copper" stroke-width="3" />{/if}
      </g>
    {/each}
  </svg>
</div>
<div class="mt-1 flex flex-wrap gap-1" role="group" aria-label="Colours of band {reading.at + 1}">
  {#each COLOURS as colour (colour)}
    <button
      type="button"
      class="border-crease hover:border-copper flex w-[4.6rem] cursor-pointer items-center gap-1.5 rounded-field border px-1.5 py-1 text-note"
      title="{colour}: key {keyOf[colour]}"
      onclick={() => reading.pick(colour)}
    >
      <span
        class="border-soft inline-block h-3.5 w-2.5 border"
        style:background={BANDS[colour].fill}
        aria-hidden="true"
      ></span>
      {colour}
    </button>
  {/each}
  <button
    type="button"
    class="border-crease hover:border-copper w-[4.6rem] cursor-pointer rounded-field border px-1.5 py-1 text-note"
    onclick={() => reading.clear()}>none yet</button
  >
</div>
<p class="text-soft mt-1.5 text-note">
  On the part: <kbd class="kbd kbd-xs">0</kbd>–<kbd class="kbd kbd-xs">9</kbd> their colours,
  <kbd class="kbd kbd-xs">g</kbd> gold, <kbd class="kbd kbd-xs">s</kbd> silver,
  <kbd class="kbd kbd-xs">p</kbd> pink, <kbd class="kbd kbd-xs">←</kbd>
  <kbd class="kbd kbd-xs">→</kbd> a band, <kbd class="kbd kbd-xs">Backspace</kbd> one off; up to {MOST_BANDS}.
</p>
